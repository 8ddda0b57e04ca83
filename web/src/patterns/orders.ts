import type { Pattern } from "../api/types";
import { worst } from "../shared/PatternText";

/** Orders in which patterns can be read. */
export type Order = "surprise" | "onset" | "count" | "severity" | "newness";
export const ORDERS: Record<Order, string> = {
	surprise: "most surprising first",
	onset: "changes, earliest first",
	count: "commonest first",
	severity: "worst first",
	newness: "latest to appear first",
};

/** Orders that ask what has changed. */
export const COMPARED_ORDERS: string[] = ["surprise", "onset"];

function unchanged(pattern: Pattern): number {
	return pattern.change === "new" || pattern.change === "more" ? 0 : 1;
}

export const BY: Record<Order, (one: Pattern, other: Pattern) => number> = {
	// The server has them in this order.
	surprise: () => 0,
	// What led to what.
	onset: (one, other) => unchanged(one) - unchanged(other) || (one.first_us ?? 0) - (other.first_us ?? 0),
	count: (one, other) => other.count - one.count,
	severity: (one, other) => worst(one) - worst(other) || other.count - one.count,
	newness: (one, other) => (other.first_us ?? 0) - (one.first_us ?? 0),
};
