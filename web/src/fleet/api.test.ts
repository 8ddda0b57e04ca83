import { describe, expect, it } from "vitest";
import { type FleetRow, grouped, type Machine, worst } from "./api";

const machine = (name: string, severities: number[], alerts: number[] = []) =>
	({
		machine: name,
		problems: severities.map((severity) => ({ severity })),
		alerts: { first: alerts.map((severity) => ({ severity })), all: alerts.length },
	}) as unknown as Machine;

describe("a machine", () => {
	it("is as bad as the worst of what has not ended, where a lower number is worse (RFC 5424, table 2)", () => {
		expect(worst(machine("alder", [4, 2, 5]))).toBe(2);
		expect(worst(machine("alder", [4], [3, 5]))).toBe(3);
		expect(worst(machine("alder", []))).toBeNull();
	});
});

describe("machines", () => {
	it("stand under what is said of them, those of whom nothing is said too", () => {
		const rows = [
			["Brenn", "alder"],
			["Brenn", "birch"],
			["Tarn", "alder"],
			[null, "cedar"],
		].map(([group, name]) => ({ group, machine: machine(name ?? "", []) }) as FleetRow);
		expect(grouped(rows).map((own) => [own[0]?.group, own.map((row) => row.machine.machine)])).toEqual([
			["Brenn", ["alder", "birch"]],
			["Tarn", ["alder"]],
			[null, ["cedar"]],
		]);
		expect(grouped([])).toEqual([]);
	});
});
