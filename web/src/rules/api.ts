import { type UseMutationResult, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import type { Schemas } from "../api/types";

export type Values = Schemas["Values"];
export type Drafted = Schemas["ParserDraft"];
/** A stretch of a sample; offsets and sizes count characters, not UTF-16 units. */
export type Part = Drafted["pieces"][number];
export type Parser = Schemas["Parser"];
export type Reread = Schemas["Reread"];
export type TrialLine = Schemas["TrialLine"];
export type ParserTrial = Schemas["ParserTrial"];
export type NoiseRule = Schemas["NoiseRule"];
export type NoiseTrial = Schemas["NoiseTrial"];
/** A line that a noise rule took. */
export type TurnedAway = Schemas["TurnedAway"]["lines"][number];

export interface ParserDraft {
	name: string;
	pattern: string;
	types: Record<string, string>;
	find: string;
	samples: string[];
}

export type Action = "drop" | "thin" | "hide";

export interface NoiseDraft {
	name: string;
	find: string;
	action: Action;
	keep: number;
	expires_us: number | null;
}

/** What can be asked of rules of one sort. */
export interface Calls<List, Rule, Draft> {
	key: string;
	list: (signal: AbortSignal) => Promise<List>;
	add: (draft: Draft) => Promise<Rule>;
	alter: (id: number, wanted: Partial<Rule> & Partial<Draft>) => Promise<Rule>;
	drop: (id: number) => Promise<Rule>;
	restore: (id: number) => Promise<Rule>;
}

const at = (id: number) => ({ params: { path: { id } } });

export const PARSERS: Calls<Schemas["Parsers"], Parser, ParserDraft> = {
	key: "/api/parsers",
	list: (signal) => answer(api.GET("/api/parsers", { signal })),
	add: (body) => answer(api.POST("/api/parsers", { body })),
	alter: (id, body) => answer(api.PATCH("/api/parsers/{id}", { ...at(id), body })),
	drop: (id) => answer(api.DELETE("/api/parsers/{id}", at(id))),
	restore: (id) => answer(api.POST("/api/parsers/{id}/restored", at(id))),
};

export const NOISE: Calls<Schemas["NoiseRules"], NoiseRule, NoiseDraft> = {
	key: "/api/noise-rules",
	list: (signal) => answer(api.GET("/api/noise-rules", { signal })),
	add: (body) => answer(api.POST("/api/noise-rules", { body })),
	alter: (id, body) => answer(api.PATCH("/api/noise-rules/{id}", { ...at(id), body })),
	drop: (id) => answer(api.DELETE("/api/noise-rules/{id}", at(id))),
	restore: (id) => answer(api.POST("/api/noise-rules/{id}/restored", at(id))),
};

/** Rules of one sort, and what can be done with them: what is removed can be had back. */
export function useRules<List, Rule extends { id: number }, Draft>(
	calls: Calls<List, Rule, Draft>,
	busy?: (list: List) => boolean,
) {
	const queries = useQueryClient();
	const settled = { onSettled: () => queries.invalidateQueries() };
	const list = useQuery({
		queryKey: [calls.key],
		queryFn: ({ signal }) => calls.list(signal),
		refetchInterval: ({ state }) => (state.data && busy?.(state.data) ? 700 : 10_000),
	});
	const alter: UseMutationResult<Rule, Error, Partial<Rule> & Partial<Draft> & { id: number }> = useMutation({
		mutationFn: ({ id, ...wanted }) => calls.alter(id, wanted as Partial<Rule> & Partial<Draft>),
		...settled,
	});
	const drop = useMutation({ mutationFn: calls.drop, ...settled });
	const restore = useMutation({ mutationFn: calls.restore, ...settled });
	return { list, alter, drop, restore };
}

/** Adds a rule, or changes one. */
export function useKeep<List, Rule, Draft>(calls: Calls<List, Rule, Draft>, id: number | null) {
	const queries = useQueryClient();
	return useMutation({
		mutationFn: (draft: Draft) =>
			id === null ? calls.add(draft) : calls.alter(id, draft as Partial<Rule> & Partial<Draft>),
		onSuccess: () => queries.invalidateQueries(),
	});
}

export const draft = (samples: string[], parts: Part[]) =>
	answer(api.POST("/api/parsers/draft", { body: { samples, parts } }));
export const tryParser = (body: ParserDraft) => answer(api.POST("/api/parsers/trial", { body }));
export const tryNoise = (body: NoiseDraft) => answer(api.POST("/api/noise-rules/trial", { body }));

/** Where a parser is made from a line, or from the lines that a find text finds. */
export function parserFrom(from: { line?: string; of?: string; find?: string }): string {
	return `/intake/parsers/new?${new URLSearchParams(from)}`;
}

/** Where a noise rule is made from a find text. */
export function noiseFrom(find: string): string {
	return `/intake/noise/new?${new URLSearchParams({ find })}`;
}
