import { describe, expect, it } from "vitest";
import type { Oddity } from "./api";
import { groups } from "./groups";

const MINUTE_US = 60_000_000;
const one = (id: number, machine: string | null, minute: number, service: string | null = "web") =>
	({ id, machine, service, from_us: minute * MINUTE_US }) as Oddity;
const ids = (all: Oddity[]) => groups(all).map(({ head, others }) => [head.id, ...others.map(({ id }) => id)]);

describe("what belongs together", () => {
	it("is of one service within half an hour of the first", () => {
		expect(ids([one(1, "alder", 60), one(2, "alder", 31), one(3, "alder", 29), one(4, "alder", 91)])).toEqual([
			[1, 2],
			[3],
			[4],
		]);
	});
	it("is not of other machines and services, nor of several machines", () => {
		const all = [one(1, "alder", 0), one(2, "birch", 0), one(3, "alder", 0, "db"), one(4, null, 0), one(5, null, 0)];
		expect(ids(all)).toEqual([[1], [2], [3], [4], [5]]);
	});
});
