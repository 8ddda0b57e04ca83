import { describe, expect, it } from "vitest";
import type { Import, PartResult } from "../api/types";
import { doubts, outcome, placed, share } from "./outcome";
import { ended, kept, type Sending } from "./sending";

const result: PartResult = { name: "a.log", lines: 12, events: 10, bytes: 900, undated: 0 };
const taken: Import = {
	id: 7,
	name: "a.log",
	state: "done",
	bytes: 1000,
	bytes_read: 1000,
	results: [result],
	created_us: 0,
	ended_us: 1,
};
const sending = (change: Partial<Sending>, of?: Partial<Import>): Sending => ({
	key: 1,
	name: "a.log",
	size: 1000,
	sent: 0,
	problem: null,
	import: of ? { ...taken, ...of } : null,
	...change,
});

describe("how far a file is", () => {
	it("is half of the way when it is sent, and never all of it before it has ended", () => {
		expect(share(sending({ sent: 500 }))).toBe(25);
		expect(share(sending({ size: 0 }))).toBe(0);
		expect(share(sending({}, { state: "reading", bytes_read: 500 }))).toBe(75);
		expect(share(sending({}, { state: "reading", bytes_read: 1000 }))).toBe(99);
		expect(share(sending({}, { state: "waiting", bytes: 0 }))).toBe(50);
		expect(share(sending({}, {}))).toBe(100);
	});

	it("is told in words", () => {
		expect(outcome(sending({}))).toBe("waits to be sent");
		expect(outcome(sending({ sent: 500 }))).toBe("sending, 500 B of 1.0 kB");
		expect(outcome(sending({}, { state: "waiting" }))).toBe("sent; waits to be read");
		expect(outcome(sending({}, { state: "reading", bytes_read: 500 }))).toBe("reading, 500 B");
		expect(outcome(sending({}, {}))).toBe("12 lines read");
		expect(outcome(sending({}, { results: [{ ...result, known_lines: 3 }, result] }))).toBe(
			"24 lines read, 3 were here already",
		);
		expect(outcome(sending({}, { state: "cancelled" }))).toBe("12 lines read, stopped; what was read stays");
		expect(outcome(sending({}, { state: "leaving" }))).toBe("being taken back");
		expect(outcome(sending({}, { state: "removed" }))).toBe("taken back: 12 lines are gone again");
		expect(outcome(sending({ problem: "the server is gone" }))).toBe("the server is gone");
	});

	it("has ended or not, and left lines or not", () => {
		expect([ended(sending({})), ended(sending({ problem: "no" })), ended(sending({}, {}))]).toEqual([
			false,
			true,
			true,
		]);
		expect([
			kept(sending({}, {})),
			kept(sending({}, { results: [] })),
			kept(sending({}, { state: "removed" })),
		]).toEqual([true, false, false]);
	});
});

describe("what is not the lines' own word", () => {
	it("says where times come from, and how dates were read", () => {
		expect(doubts([result])).toEqual([]);
		expect(doubts([{ ...result, undated: 10 }])).toEqual(["No line has a time: all are dated by the file."]);
		expect(doubts([result, { ...result, undated: 10 }])).toEqual([
			"10 lines have no time: they are dated by the line before or by the file.",
		]);
		expect(
			doubts([
				{ ...result, date_order: "day first" },
				{ ...result, date_order: "day first" },
			]),
		).toEqual(["Dates such as 03/04/2026 were read day first."]);
	});

	it("names each machine that lines were given once", () => {
		expect(placed([{ ...result, machine: "case-17" }, result, { ...result, machine: "case-17" }])).toEqual(["case-17"]);
	});
});
