import { expect, it } from "vitest";
import type { Happening } from "../api/types";
import { fold } from "./fold";

const MINUTE = 60_000_000;

function happening(minute: number, more: Partial<Happening> = {}): Happening {
	const usual = { rule: "link-down", kind: "fault", severity: 3, machine: "rtr-brn-1", service: null, says: "down" };
	const rest = { person: null, line: true, until_us: null, outcome: null };
	return { id: String(minute), time_us: minute * MINUTE, ...usual, ...rest, ...more };
}

const counts = (...all: Happening[]) => fold(all).map(({ first, last, count }) => [first.id, last.id, count]);

it("tells what comes again within a quarter of an hour once, at the place of its first", () =>
	expect(counts(happening(0), happening(15), happening(30))).toEqual([["0", "30", 3]]));

it("begins anew after a longer pause", () =>
	expect(counts(happening(0), happening(16))).toEqual([
		["0", "0", 1],
		["16", "16", 1],
	]));

it("keeps machines and rules apart, though they come in between", () =>
	expect(
		counts(happening(0), happening(1, { machine: "rtr-auk-1" }), happening(2), happening(3, { rule: "up" })),
	).toEqual([
		["0", "2", 2],
		["1", "1", 1],
		["3", "3", 1],
	]));

it("tells each thing that somebody does, unless it says the same", () =>
	expect(
		counts(
			happening(0, { kind: "change", says: "mtu 1500" }),
			happening(1, { kind: "change", says: "mtu 9000" }),
			happening(2, { kind: "change", says: "mtu 1500" }),
		),
	).toEqual([
		["0", "2", 2],
		["1", "1", 1],
	]));

it("folds nothing into nothing", () => expect(fold([])).toEqual([]));
