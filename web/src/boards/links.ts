import type { Group, Schemas } from "../api/types";
import { conditions } from "../measure/groups";
import { has, type Question, write } from "../shared/question";

export type Measured = Schemas["Measured"];

/** Address of the lines of a question, or of a part of it. */
export function linesOf(question: Question, part: Partial<Question> = {}): string {
	return `/?${write({ ...question, ...part, measure: "", compared: "", view: "lines" })}`;
}

/** Of these and no others: those of all groups that are told by name stand in the way of the rest. */
function beyond(measured: Measured): string {
	const told = measured.groups.map((group) =>
		conditions(measured, group)
			.map((one) => `(${one})`)
			.join(" "),
	);
	return `not (${told.map((one) => `(${one})`).join(" or ")})`;
}

function own(measured: Measured, group: Group): string[] {
	if (group.by === null) return [beyond(measured)];
	// All together are of no group.
	return group.by.length ? conditions(measured, group) : [];
}

/** Conditions of the lines that a group's figure is about. */
export function linesOfGroup(measured: Measured, group: Group): string[] {
	return [...own(measured, group), ...(measured.field ? [has(measured.field)] : [])];
}

interface Step {
	from: number;
	to: number;
}

/** What is drawn of a measurement: of a group, of all its time or of a step. */
export function linesOfMark(question: Question, measured: Measured, group: Group, step?: Step): string {
	const chips = [...new Set([...question.chips, ...linesOfGroup(measured, group)])];
	return linesOf(question, { chips, ...(step && within(question, step.from, step.to)) });
}

/** A step at an edge reaches beyond the time of the question: it counts what is in both. */
export function within(question: Question, fromUs: number, toUs: number): Pick<Question, "fromUs" | "toUs"> {
	return {
		fromUs: Math.max(fromUs, question.fromUs ?? fromUs),
		toUs: Math.min(toUs, question.toUs ?? toUs),
	};
}

/** What a mark says: how many lines it leads to, where it counts them. */
export function markOf(measured: Measured, value: number | null | undefined): number | undefined {
	return measured.aggregate === "count" ? (value ?? undefined) : undefined;
}
