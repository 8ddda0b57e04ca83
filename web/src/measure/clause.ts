import { field as written } from "../shared/question";

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

const NAME = String.raw`(?:"(?:[^"\\]|\\.)*"|[^\s(),"]+)`;
const CLAUSE = new RegExp(
	String.raw`^\s*(\w+)?\s*(?:\(\s*(${NAME})\s*\))?(?:\s*by\s+(${NAME}(?:\s*,\s*${NAME})?))?(?:\s*per\s+([\d.]*\s*[a-z]+))?(?:\s*top\s+(\d+))?`,
	"i",
);

function unquoted(name: string): string {
	return name.startsWith('"') ? name.slice(1, -1).replace(/\\(["\\])/g, "$1") : name;
}

export function parse(text: string): Clause {
	const match = CLAUSE.exec(text);
	return {
		aggregate: match?.[1]?.toLowerCase() ?? "count",
		field: match?.[2] ? unquoted(match[2]) : null,
		by: match?.[3]?.match(new RegExp(NAME, "g"))?.map(unquoted) ?? [],
		per: match?.[4]?.trim() ?? "no time",
		top: Number(match?.[5] ?? TOP),
	};
}

export function write({ aggregate, field, by, per, top }: Clause): string {
	return [
		field ? `${aggregate}(${written(field)})` : aggregate,
		by.length && `by ${by.map(written).join(", ")}`,
		per !== "no time" && `per ${per}`,
		top !== TOP && `top ${top}`,
	]
		.filter(Boolean)
		.join(" ");
}
