import { describe, expect, it } from "vitest";
import { grouped, type Machine, worst } from "./api";

const machine = (name: string, severities: number[], said: Partial<Machine> = {}) =>
	({
		machine: name,
		site: null,
		role: null,
		tags: [],
		...said,
		problems: severities.map((severity) => ({ severity })),
	}) as unknown as Machine;

describe("a machine", () => {
	it("is as bad as the worst of what has not ended, where a lower number is worse (RFC 5424, table 2)", () => {
		expect(worst(machine("alder", [4, 2, 5]))).toBe(2);
		expect(worst(machine("alder", []))).toBeNull();
	});
});

describe("machines", () => {
	const all = [
		machine("birch", [], { site: "Tarn", tags: ["spare", "old"] }),
		machine("alder", [], { site: "Brenn", tags: ["old"] }),
		machine("cedar", []),
	];
	const names = (by: "site" | "role" | "tag") =>
		grouped(all, by).map(([name, some]) => [name, some.map((one) => one.machine)]);

	it("stand by what is said of them, those of whom nothing is said last", () => {
		expect(names("site")).toEqual([
			["Brenn", ["alder"]],
			["Tarn", ["birch"]],
			["", ["cedar"]],
		]);
		expect(names("role")).toEqual([["", ["birch", "alder", "cedar"]]]);
	});

	it("stand under each of their tags", () => {
		expect(names("tag")).toEqual([
			["old", ["birch", "alder"]],
			["spare", ["birch"]],
			["", ["cedar"]],
		]);
	});
});
