/** What is measured, as the choices beside the sentence show it; the server alone decides what a text means. */
export interface Clause {
	aggregate: string;
	field: string | null;
	by: string[];
	/** Step of time; empty for none. */
	per: string;
	top: number;
}

export const AGGREGATES = ["count", "distinct", "sum", "avg", "min", "max", "p50", "p95", "p99"];
/** Empty: no steps. */
export const STEPS = ["no time", "auto", "second", "minute", "5 min", "hour", "day"];
const TOP = 10;

export function parse(text: string): Clause {
	const match =
		/^\s*(\w+)?\s*(?:\(\s*([^\s(),]+)\s*\))?(?:\s*by\s+([^\s(),]+(?:\s*,\s*[^\s(),]+)?))?(?:\s*per\s+([\d.]*\s*[a-z]+))?(?:\s*top\s+(\d+))?/i.exec(
			text,
		);
	return {
		aggregate: match?.[1]?.toLowerCase() ?? "count",
		field: match?.[2] ?? null,
		by: match?.[3]?.split(/\s*,\s*/) ?? [],
		per: match?.[4]?.trim() ?? "no time",
		top: Number(match?.[5] ?? TOP),
	};
}

export function write({ aggregate, field, by, per, top }: Clause): string {
	return [
		field ? `${aggregate}(${field})` : aggregate,
		by.length && `by ${by.join(", ")}`,
		per !== "no time" && `per ${per}`,
		top !== TOP && `top ${top}`,
	]
		.filter(Boolean)
		.join(" ");
}
