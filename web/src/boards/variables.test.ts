import { describe, expect, it } from "vitest";
import { variablesOf } from "./variables";

describe("variables of a board", () => {
	it("are called after their fields, each by a name of its own", () => {
		expect(
			variablesOf(["host.name", "service.name", "url.path", "file.path", "ÄÖ"], []).map(({ name }) => name),
		).toEqual(["machine", "service", "path", "file-path", "field"]);
	});

	it("keep what they had", () => {
		const now = [{ name: "where", field: "host.site", value: "auk" }];
		expect(variablesOf(["host.site", "host.role"], now)).toEqual([
			now[0],
			{ name: "role", field: "host.role", value: "" },
		]);
	});
});
