import { describe, expect, it } from "vitest";
import type { Histogram } from "../api/types";
import { countOf, shownTotal } from "./histogram";

// Steps with counts of the nine severities, emergency first.
const COUNTED = {
	total: 47,
	series: [
		{ name: "a", counts: [[0, 1, 0, 0, 4, 0, 0, 10, 0, 0]] },
		{ name: null, counts: [[2, 0, 0, 0, 0, 0, 0, 20, 5, 5]] },
	],
	others: { series: 2, counts: [[1, 0, 0, 0, 2, 0, 0, 0, 0, 0]] },
} as unknown as Histogram;

describe("lines that are shown", () => {
	it.each([
		[[], 47],
		[["informational"], 17],
		[["informational", "debug", "unset"], 7],
		[["error"], 41],
		[["no severity"], 47],
	])("without %j are %i", (hidden, total) => expect(shownTotal(COUNTED, hidden)).toBe(total));
});

describe("the count of a question", () => {
	it.each([
		[COUNTED, false, "idle", "done"],
		[COUNTED, false, "fetching", "done"],
		[COUNTED, true, "fetching", "going on"],
		[COUNTED, true, "idle", "stopped"],
		[undefined, false, "fetching", "going on"],
		[undefined, false, "idle", "stopped"],
	] as const)("%#", (data, isPlaceholderData, fetchStatus, count) =>
		expect(countOf({ data, isPlaceholderData, fetchStatus })).toBe(count),
	);
});
