import { type UseMutationResult, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { get, remove, send } from "../api/client";
import type { Line } from "../api/types";

export type Values = Record<string, string | number | boolean | null>;

/** A stretch of a sample; offsets and sizes count characters, not UTF-16 units. */
export interface Part {
	at: number;
	size: number;
	name: string | null;
}

export interface ParserDraft {
	name: string;
	pattern: string;
	types: Record<string, string>;
	find: string;
	samples: string[];
}

export interface Reread {
	state: "waiting" | "running" | "done" | "cancelled" | "failed" | "undoing" | "undone";
	total: number;
	looked_at: number;
	altered: number;
	version: number;
	problem: string | null;
}

export interface Parser extends ParserDraft {
	id: number;
	position: number;
	version: number;
	enabled: boolean;
	slow: boolean;
	microseconds: number;
	/** Lines of the last 24 hours that it has read. */
	day_lines: number;
	reread: Reread | null;
}

export interface TrialLine {
	message: string;
	/** What each part took; null when the expression does not match. */
	values: Values | null;
}

export interface ParserTrial {
	samples: TrialLine[];
	lines: TrialLine[];
	looked_at: number;
	matched: number;
	microseconds: number;
	slow: boolean;
	/** Type that the values of a part have. */
	proposed: Record<string, string>;
	/** Fields that the reader fills already. */
	conflicts: string[];
	fields: Record<string, string | null>;
}

export interface Drafted {
	pieces: Part[];
	pattern: string | null;
	types: Record<string, string>;
}

export type Action = "drop" | "thin" | "hide";

export interface NoiseDraft {
	name: string;
	find: string;
	action: Action;
	keep: number;
	expires_us: number | null;
}

export interface NoiseRule extends NoiseDraft {
	id: number;
	/** What it has taken so far. */
	lines: number;
	bytes: number;
	enabled: boolean;
	holds: boolean;
}

export interface NoiseTrial {
	from_us: number;
	to_us: number;
	matched: number;
	lines: number;
	bytes: number;
	all_lines: number;
	samples: Line[];
}

export interface TurnedAway {
	/** Name of the noise rule. */
	rule: string;
	time_us: number;
	severity: number;
	machine: string | null;
	service: string | null;
	message: string;
}

export const PARSERS = "/api/parsers";
export const NOISE = "/api/noise-rules";

/** Rules of one sort, and what can be done with them: what is removed can be had back. */
export function useRules<List, Rule extends { id: number }>(path: string, busy?: (list: List) => boolean) {
	const queries = useQueryClient();
	const settled = { onSettled: () => queries.invalidateQueries() };
	const list = useQuery({
		queryKey: [path],
		queryFn: ({ signal }) => get<List>(path, undefined, signal),
		refetchInterval: ({ state }) => (state.data && busy?.(state.data) ? 700 : 10_000),
	});
	const alter: UseMutationResult<Rule, Error, Partial<Rule> & { id: number }> = useMutation({
		mutationFn: ({ id, ...wanted }) => send<Rule>("PATCH", `${path}/${id}`, wanted),
		...settled,
	});
	const drop = useMutation({ mutationFn: (id: number) => remove<Rule>(`${path}/${id}`), ...settled });
	const restore = useMutation({
		mutationFn: (id: number) => send<Rule>("POST", `${path}/${id}/restored`, {}),
		...settled,
	});
	return { list, alter, drop, restore };
}

/** Adds a rule, or changes one. */
export function useKeep<Draft, Rule>(path: string, id: number | null) {
	const queries = useQueryClient();
	return useMutation({
		mutationFn: (draft: Draft) =>
			id === null ? send<Rule>("POST", path, draft) : send<Rule>("PATCH", `${path}/${id}`, draft),
		onSuccess: () => queries.invalidateQueries(),
	});
}

export const draft = (samples: string[], parts: Part[]) =>
	send<Drafted>("POST", `${PARSERS}/draft`, { samples, parts });
export const tryParser = (wanted: ParserDraft) => send<ParserTrial>("POST", `${PARSERS}/trial`, wanted);
export const tryNoise = (wanted: NoiseDraft) => send<NoiseTrial>("POST", `${NOISE}/trial`, wanted);

/** Where a parser is made from a line, or from the lines that a find text finds. */
export function parserFrom(from: { line?: string; of?: string; find?: string }): string {
	return `/intake/parsers/new?${new URLSearchParams(from)}`;
}

/** Where a noise rule is made from a find text. */
export function noiseFrom(find: string): string {
	return `/intake/noise/new?${new URLSearchParams({ find })}`;
}
