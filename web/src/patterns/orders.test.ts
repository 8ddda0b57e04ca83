import { describe, expect, it } from "vitest";
import type { Pattern } from "../api/types";
import { BY, type Order } from "./orders";

/** Severities by code, from emergency (RFC 5424, table 2) to unset. */
const of = (code: number) => Array.from({ length: 9 }, (_, index) => (index === code ? 1 : 0));
const pattern = (name: string, count: number, code: number, first_us: number, change: Pattern["change"]) =>
	({ name, count, severities: of(code), first_us, change }) as Pattern;
const ALL = [
	pattern("common", 900, 6, 50, "same"),
	pattern("worst", 3, 2, 40, "less"),
	pattern("cause", 5, 4, 10, "new"),
	pattern("effect", 70, 4, 20, "more"),
	pattern("old", 8, 6, 1, "same"),
];
const names = (order: Order) => [...ALL].sort(BY[order]).map(({ name }) => name);

describe("patterns", () => {
	it("stand as the server has them where the most surprising is first", () => {
		expect(names("surprise")).toEqual(["common", "worst", "cause", "effect", "old"]);
	});

	it("that changed stand in the order in which they began, before those that did not", () => {
		expect(names("onset")).toEqual(["cause", "effect", "old", "worst", "common"]);
	});

	it("stand by how often they came, how bad they are, and how late they appeared", () => {
		expect(names("count")).toEqual(["common", "effect", "old", "cause", "worst"]);
		expect(names("severity")).toEqual(["worst", "effect", "cause", "common", "old"]);
		expect(names("newness")).toEqual(["common", "worst", "effect", "cause", "old"]);
	});
});
