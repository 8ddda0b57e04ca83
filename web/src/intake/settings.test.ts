import { describe, expect, it } from "vitest";
import { filled, typed } from "./SettingFields";

describe("settings of a source", () => {
	it("are typed as they are, and what is not set is empty", () => {
		expect(typed({ port: 5514, machine: "alder", limit: null })).toEqual({ port: "5514", machine: "alder", limit: "" });
		expect(typed(undefined)).toEqual({});
	});

	it("are sent as far as the kind has them", () => {
		const fields = [
			{ name: "port", label: "Port" },
			{ name: "zone", label: "Zone" },
		];
		expect(filled(fields, { port: "514", command: "date" })).toEqual({ port: "514", zone: "" });
	});
});
