import type { Group, Schemas } from "../api/types";
import { exactly, has } from "../shared/question";
import { SEVERITIES, severityColor } from "../shared/severity";

/** What is drawn of a measurement. */
export type Drawn = Pick<
	Schemas["Measured"],
	"aggregate" | "by" | "unit" | "start_us" | "step_us" | "steps" | "groups" | "other" | "whole"
> &
	Partial<Pick<Schemas["Measured"], "before">>;

/** Hues of the sea and the shore, apart from those that tell severity. */
export const COLORS = Array.from({ length: 10 }, (_, index) => `var(--series-${index})`);
export const OTHER = "var(--ink-third)";

/** The conditions that the lines of a group fulfil, and no others do. */
export function conditions({ by }: Pick<Drawn, "by">, group: Group): string[] {
	return by.map((field, index) => {
		const value = group.by?.[index];
		if (value === null || value === undefined) return `not ${has(field)}`;
		// Their names are words of the language.
		return field === "severity" || field === "pattern" ? `${field} = ${value}` : exactly(field, value);
	});
}

export function groupName(group: Group): string {
	if (group.by === null) return "other";
	return group.by.length ? group.by.map((value) => value ?? "(none)").join(" · ") : "all";
}

export function groupColor(group: Group, index: number): string {
	if (group.by === null) return OTHER;
	const severity = group.by.find((value) => (SEVERITIES as readonly (string | null)[]).includes(value));
	const code = severity ? SEVERITIES.indexOf(severity as (typeof SEVERITIES)[number]) : -1;
	return code >= 0 ? severityColor(code) : (COLORS[index % COLORS.length] ?? OTHER);
}

/** All that are drawn: those that are told by name, and the rest together. */
export function allGroups({ groups, other }: Pick<Drawn, "groups" | "other">): Group[] {
	return other ? [...groups, other] : groups;
}
