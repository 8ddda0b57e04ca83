import { keepPreviousData, useQueries, useQueryClient } from "@tanstack/react-query";
import { Problem, postedLines } from "../api/client";
import type { ProblemDetails, Schemas } from "../api/types";
import type { Card, CardAnswer } from "../cards/api";
import { utcOffset } from "../shared/time";
import { useZone } from "../shared/zone";
import type { View } from "./view";

export interface Shown {
	answer?: CardAnswer;
	problem?: ProblemDetails;
}

interface Answers {
	cards: Record<string, Shown>;
	/** How long all of it took; nothing while some are on their way. */
	milliseconds?: number;
}

/** What cards show, asked together; each is there as soon as it is known. Cards that come into sight later are asked
 * later: each batch is those that came at once.
 * @param batches ids of cards */
export function useAnswers(cards: Card[], batches: string[][], view: View) {
	const queries = useQueryClient();
	const { zone } = useZone();
	const asks = (ids: string[]) => ({
		definition: {
			title: "asked",
			// How they are arranged and called changes nothing of what they show.
			cards: cards
				.filter(({ id }) => ids.includes(id))
				.map(({ id, drawing, query, window }) => ({ id, drawing, query, window })),
			find: view.conditions.map((one) => `(${one})`).join(" "),
		},
		compared: view.compared,
		from_us: view.span?.fromUs ?? null,
		to_us: view.span?.toUs ?? null,
		zone,
		utc_offset: utcOffset(view.span?.fromUs ?? Date.now() * 1000, zone),
	});
	const ask = (ids: string[]) => {
		const body = asks(ids);
		const queryKey = ["board answers", body];
		return {
			queryKey,
			queryFn: async ({ signal }: { signal: AbortSignal }): Promise<Answers> => {
				const found: Record<string, Shown> = {};
				for await (const part of postedLines<Schemas["BoardPart"]>("/api/boards/answers", body, signal)) {
					if (part.problem && !part.cards) throw new Problem(part.problem);
					if (part.milliseconds !== undefined) return { cards: found, milliseconds: part.milliseconds };
					for (const id of part.cards ?? []) found[id] = { answer: part.answer, problem: part.problem };
					queries.setQueryData(queryKey, { cards: { ...found } });
				}
				throw new Error("The answer was cut short; ask again.");
			},
			enabled: view.span !== undefined && body.definition.cards.length > 0,
			placeholderData: keepPreviousData<Answers>,
		};
	};
	return useQueries({
		queries: batches.map(ask),
		combine: (results) => ({
			cards: Object.assign({}, ...results.map(({ data }) => data?.cards ?? {})) as Record<string, Shown>,
			error: results.find(({ error }) => error)?.error ?? null,
			milliseconds: results.every(({ data }) => data?.milliseconds !== undefined)
				? results.reduce((sum, { data }) => sum + (data?.milliseconds ?? 0), 0)
				: null,
		}),
	});
}
