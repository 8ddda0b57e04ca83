import { useCallback, useMemo } from "react";
import { useSearchParams } from "react-router";
import { SEVERITIES } from "./severity";
import { fromIso, toIso } from "./time";

export type Lanes = "" | "machine" | "service";
export const VIEWS = ["lines", "patterns", "fields", "words", "measure"] as const;
export type View = (typeof VIEWS)[number];

/** Everything that a link reproduces: what is asked, and how it is looked at. */
export interface Question {
	find: string;
	chips: string[];
	fromUs: number | null;
	toUs: number | null;
	hidden: string[];
	/** Name of the scope that is on; empty for everything. */
	scope: string;
	/** What it is compared with: see compared.ts. */
	compared: string;
	/** What is measured; empty for the number of lines. */
	measure: string;
	view: View;
	lanes: Lanes;
	/** Fields shown as columns beside the usual ones. */
	columns: string[];
	wrap: boolean;
	/** Whether the rail draws stretches without a line at their length. */
	whole: boolean;
	/** Whether lines are ordered by when they happened, where clocks are known to be off. */
	trueTime: boolean;
	/** Whether lines that noise rules hide are shown. */
	noiseShown: boolean;
	/** The line that is open. */
	line: string | null;
	/** What of its thread is open: nearby, seen, file, or a field. */
	thread: string;
}

/** Around a moment that another program's link names. */
const AROUND_US = 300_000_000;

/** The question of a link; what it does not say, or nobody understands, is asked as usual. Other programs name a machine
 * (on) and a moment (at): its lines five minutes before and after are asked for. */
export function read(params: URLSearchParams): Question {
	const moment = (name: string) => {
		const text = params.get(name);
		return text ? fromIso(text) : null;
	};
	const lanes = params.get("lanes");
	const at = moment("at");
	const on = params.get("on");
	return {
		find: params.get("find") ?? "",
		chips: [...params.getAll("chip"), ...(on ? [equals("host.name", on)] : [])],
		fromUs: moment("from") ?? (at === null ? null : at - AROUND_US),
		toUs: moment("to") ?? (at === null ? null : at + AROUND_US),
		hidden: (params.get("hide") ?? "").split(",").filter((name) => (SEVERITIES as readonly string[]).includes(name)),
		scope: params.get("scope") ?? "",
		compared: params.get("with") ?? "",
		measure: params.get("measure") ?? "",
		view: VIEWS.find((view) => view === params.get("view")) ?? "lines",
		lanes: lanes === "machine" || lanes === "service" ? lanes : "",
		columns: (params.get("columns") ?? "").split(",").filter(Boolean),
		wrap: params.get("rows") === "wrapped",
		whole: params.get("rail") === "whole",
		trueTime: params.get("time") === "true",
		noiseShown: params.get("noise") === "shown",
		line: params.get("line"),
		thread: params.get("thread") ?? "",
	};
}

export function write(question: Question): URLSearchParams {
	const params = new URLSearchParams();
	if (question.find) params.set("find", question.find);
	for (const chip of question.chips) params.append("chip", chip);
	if (question.fromUs !== null) params.set("from", toIso(question.fromUs));
	if (question.toUs !== null) params.set("to", toIso(question.toUs));
	if (question.hidden.length) params.set("hide", question.hidden.join(","));
	if (question.scope) params.set("scope", question.scope);
	if (question.compared) params.set("with", question.compared);
	if (question.measure) params.set("measure", question.measure);
	if (question.view !== "lines") params.set("view", question.view);
	if (question.lanes) params.set("lanes", question.lanes);
	if (question.columns.length) params.set("columns", question.columns.join(","));
	if (question.wrap) params.set("rows", "wrapped");
	if (question.whole) params.set("rail", "whole");
	if (question.trueTime) params.set("time", "true");
	if (question.noiseShown) params.set("noise", "shown");
	if (question.line) params.set("line", question.line);
	if (question.line && question.thread) params.set("thread", question.thread);
	return params;
}

/** All that there is of a window. */
export function windowOf(fromUs: number | null, toUs: number | null): Question {
	return { ...read(new URLSearchParams()), fromUs, toUs };
}

/** The part of a question that decides which lines answer it, as the HTTP interface takes it. */
export function asked(question: Question): URLSearchParams {
	const params = new URLSearchParams();
	if (question.find) params.set("find", question.find);
	for (const chip of question.chips) params.append("chip[]", chip);
	if (question.fromUs !== null) params.set("from", String(question.fromUs));
	if (question.toUs !== null) params.set("to", String(question.toUs));
	if (question.hidden.length) params.set("hide", question.hidden.join(","));
	if (question.scope) params.set("scope", question.scope);
	if (question.noiseShown) params.set("noise", "shown");
	return params;
}

/** The conditions of a question as one find text. */
export function wholeFind(question: Question): string {
	const parts = [question.find, ...question.chips].map((part) => part.trim()).filter(Boolean);
	return parts.length === 1 ? parts.join("") : parts.map((part) => `(${part})`).join(" ");
}

/** The same, with what it is compared with. */
export function askedAgainst(question: Question): URLSearchParams {
	const params = asked(question);
	if (question.compared) params.set("with", question.compared);
	return params;
}

/** What every view of the lines is given. */
export interface ViewProps {
	question: Question;
	change: Change;
	/** Adds a condition. */
	onChip: (chip: string) => void;
}

export type Change = (patch: Partial<Question>, how?: { replace?: boolean }) => void;

/** The question in the address of the page. Going back undoes the last change. */
export function useQuestion(): [Question, Change] {
	const [params, setParams] = useSearchParams();
	const question = useMemo(() => read(params), [params]);
	const change = useCallback<Change>(
		(patch, how) => setParams((now) => write({ ...read(now), ...patch }), { replace: how?.replace ?? false }),
		[setParams],
	);
	return [question, change];
}

/** A value as it must be written in a find text. */
export function quote(value: string): string {
	return /^[^\s()",*]+$/.test(value) && !/^(and|or|not)$/i.test(value) ? value : quoted(value);
}

/** A field's name as it must be written in a find text, or in a clause of what is measured. */
export function field(name: string): string {
	return /^[A-Za-z_@](?:[\w.@/-]*\w)?$/.test(name) && !/^(and|or|not|has|in)$/i.test(name) ? name : quoted(name);
}

function quoted(text: string): string {
	return `"${text.replace(/["\\]/g, (char) => `\\${char}`)}"`;
}

/** To the letter, and as a whole. */
export function exactly(name: string, value: string): string {
	return `${field(name)} = ${quoted(value)}`;
}

export function equals(name: string, value: string | number | boolean): string {
	return `${field(name)} = ${quote(String(value))}`;
}

export function differs(name: string, value: string | number | boolean): string {
	return `${field(name)} != ${quote(String(value))}`;
}

export function has(name: string): string {
	return `has ${field(name)}`;
}

/** Adds a condition; clicking its opposite replaces it. */
export function withChip(chips: string[], chip: string): string[] {
	const opposite = chip.replace(
		/^("(?:[^"\\]|\\.)*"|[^\s"]+) (!?=) /,
		(_, name, sign) => `${name} ${sign === "=" ? "!=" : "="} `,
	);
	return [...chips.filter((other) => other !== chip && other !== opposite), chip];
}
