import { describe, expect, it } from "vitest";
import type { Definition } from "./api";
import { complete, type Draft, EMPTY, foundOut, inWords, type Kind, proposedName, read, write } from "./definition";

type When = Definition["when"];

const THEN = "then" as const;
/** Of each condition one with all of its parts, and what it says. */
const CONDITIONS: [Kind, When, string][] = [
	[
		"count",
		{ count: { find: "refused", at_least: 3, within: "60s", by: ["host.name"] } },
		"refused, 3 times within 60s per host.name",
	],
	["count", { count: { find: "refused", at_least: 1, within: "1s", by: [] } }, "refused"],
	[
		"fewer",
		{ fewer: { find: "beat", than: 1, within: "1h", by: ["host.name", "service.name"] } },
		"beat, none within 1h per host.name and service.name",
	],
	["fewer", { fewer: { find: "beat", than: 5, within: "1h", by: [] } }, "beat, fewer than 5 within 1h"],
	[
		"sequence",
		{
			sequence: {
				first: "failed",
				[THEN]: "accepted",
				without: "locked",
				at_least: 5,
				within: "5min",
				by: ["user.name"],
			},
		},
		"failed, 5 times, then accepted within 5min per user.name, no locked between",
	],
	[
		"unfinished",
		{ unfinished: { first: "begun", [THEN]: "done", join: "request.id", within: "10min", by: [] } },
		"begun, and no done within 10min of the same request.id",
	],
	[
		"measure",
		{
			measure: {
				find: "took",
				of: "p95(duration_ms)",
				above: "2s",
				critical: "5s",
				back: "1s",
				for: "10min",
				within: "5min",
				by: [],
			},
		},
		"p95(duration_ms) above 2s, critical 5s within 5min of took",
	],
	[
		"measure",
		{ measure: { find: "sold", of: "count", below: "3", within: "5min", by: [] } },
		"count below 3 within 5min of sold",
	],
	[
		"entry",
		{ entry: { kinds: ["disk", "certificate"], at_least: 2, within: "1h", by: [] } },
		"logbook: disk or certificate, 2 times within 1h",
	],
	[
		"unusual",
		{ unusual: { of: ["pattern", "more"], priority: 70, by: ["host.name"] } },
		"unusual: pattern or more, priority 70 or more per host.name",
	],
	["unusual", { unusual: { priority: 40, by: [] } }, "unusual: anything, priority 40 or more"],
	["restart", { restart: { of: ["unknown"], by: ["host.name"] } }, "restarted: unknown per host.name"],
	["restart", { restart: { by: [] } }, "restarted: for any reason"],
];

describe("a rule that is read and written again", () => {
	it.each(CONDITIONS)("of %s is the same: %j", (kind, when, says) => {
		const definition: Definition = { name: "A rule", severity: "warning", when };
		expect(read(definition).kind).toBe(kind);
		expect(write(read(definition))).toEqual(definition);
		expect(complete(read(definition))).toBe(true);
		expect(inWords(definition)).toBe(says);
	});

	it("keeps what else it has", () => {
		const definition: Definition = {
			id: "disk-full",
			name: "Disk full",
			severity: "critical",
			when: { count: { find: "full", at_least: 1, within: "1s", by: [] } },
			quiet: "1h",
			why: "Nothing can be written.",
			steps: "1. Look.",
			tags: ["storage"],
			owner: "Ida",
			hours: { days: ["sat", "sun"], from: "08:00", to: "00:00", zone: "Europe/Oslo" },
			attach: "device",
			fold: false,
		};
		expect(write(read(definition))).toEqual(definition);
	});
});

describe("a rule that is typed", () => {
	const draft = (values: Partial<Draft>): Draft => ({ ...EMPTY, ...values });

	it("is tried once enough is said", () => {
		expect(complete(draft({}))).toBe(false);
		expect(complete(draft({ find: "x" }))).toBe(true);
		expect(complete(draft({ kind: "entry" }))).toBe(false);
		expect(complete(draft({ kind: "unusual" }))).toBe(true);
		expect(complete(draft({ kind: "sequence", find: "x" }))).toBe(false);
		expect(complete(draft({ kind: "unfinished", find: "x", next: "y" }))).toBe(false);
		expect(complete(draft({ kind: "measure", find: "x", of: "count", level: " " }))).toBe(false);
	});

	it("is watched at the hours that are typed, in the zone of the page, days in their order", () => {
		const typed = write(draft({ find: "x", days: ["sun", "mon"], to: "06:30" }), "Asia/Tokyo");
		expect(typed.hours).toEqual({ days: ["mon", "sun"], from: "00:00", to: "06:30", zone: "Asia/Tokyo" });
		expect(inWords(typed)).toBe("x per host.name, mon sun 00:00–06:30");
		expect(write(draft({ find: "x" })).hours).toBeUndefined();
	});

	it("is called by what it is about", () => {
		expect(proposedName(draft({ find: "x".repeat(99) }))).toHaveLength(80);
		expect(proposedName(draft({ kind: "entry", kinds: ["disk", "crash"] }))).toBe("disk, crash");
		expect(proposedName(draft({ kind: "restart" }))).toBe("Machine restarted");
		expect(write(draft({ kind: "unusual" })).name).toBe("Something unusual");
		expect(foundOut("unusual")).toBe(true);
		expect(foundOut("count")).toBe(false);
	});
});
