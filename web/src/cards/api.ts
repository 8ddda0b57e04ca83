import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api, Problem, postedLines } from "../api/client";
import type { ProblemDetails, Schemas } from "../api/types";
import { type Question, read, write } from "../shared/question";
import { utcOffset } from "../shared/time";
import { useZone } from "../shared/zone";

export type Board = Schemas["Board"];
export type BoardInShort = Schemas["Boards"]["boards"][number];
export type Definition = Schemas["BoardDefinition"];
export type Card = Schemas["Card"];
export type Drawing = Card["drawing"];
export type Place = Required<NonNullable<Card["place"]>>;
export type CardAnswer = Schemas["CardAnswer"];

export const BOARDS = "/api/boards";
const LOOK_MS = 60_000;
export const COLUMNS = 12;
const USUAL: Place = { x: 0, y: 0, w: 6, h: 6 };

const at = (id: number) => ({ params: { path: { id } } });

export const placeOf = (card: Card): Place => ({ ...USUAL, ...card.place });
export const cardsOf = (definition: Definition): Card[] => definition.cards ?? [];

/** Below all others, half the width of the board. */
export function below(cards: Card[]): Place {
	const y = Math.max(0, ...cards.map(placeOf).map((place) => place.y + place.h));
	return { ...USUAL, y };
}

export function useBoards() {
	return useQuery({
		queryKey: [BOARDS],
		queryFn: ({ signal }) => answer(api.GET("/api/boards", { signal })),
	});
}

export function useBoard(id: number) {
	return useQuery({
		queryKey: [BOARDS, id],
		queryFn: ({ signal }) => answer(api.GET("/api/boards/{id}", { ...at(id), signal })),
		retry: false,
	});
}

export function useBoardChanges() {
	const queries = useQueryClient();
	const settled = { onSettled: () => queries.invalidateQueries({ queryKey: [BOARDS] }) };
	return {
		make: useMutation({
			mutationFn: (definition: Definition) => answer(api.POST("/api/boards", { body: { definition } })),
			...settled,
		}),
		keep: useMutation({
			mutationFn: ({ id, definition, changed_us }: Pick<Board, "id" | "definition" | "changed_us">) =>
				answer(api.PATCH("/api/boards/{id}", { ...at(id), body: { definition, changed_us } })),
			...settled,
		}),
		add: useMutation({
			mutationFn: async ({ id, card }: { id: number; card: Omit<Card, "id" | "place"> }) => {
				const board = await answer(api.GET("/api/boards/{id}", at(id)));
				const cards = cardsOf(board.definition);
				const added = { ...card, id: crypto.randomUUID().slice(0, 8), place: below(cards) };
				const definition = { ...board.definition, cards: [...cards, added] };
				return answer(api.PATCH("/api/boards/{id}", { ...at(id), body: { definition, changed_us: board.changed_us } }));
			},
			...settled,
		}),
		remove: useMutation({
			mutationFn: (id: number) => answer(api.DELETE("/api/boards/{id}", at(id))),
			// It is not there to be asked any more.
			onSuccess: () => queries.invalidateQueries({ queryKey: [BOARDS], exact: true }),
		}),
		restore: useMutation({
			mutationFn: (id: number) => answer(api.POST("/api/boards/{id}/restored", at(id))),
			...settled,
		}),
	};
}

export interface Span {
	fromUs: number | null;
	toUs: number | null;
}

/** What the words of a board's time mean now; anew each minute. */
export function useSpan(words: string, enabled: boolean) {
	const { zone } = useZone();
	return useQuery({
		queryKey: ["span", words, zone],
		queryFn: async ({ signal }): Promise<Span> => {
			const found = await answer(api.GET("/api/windows", { params: { query: { words, zone } }, signal }));
			return { fromUs: found.from_us, toUs: found.to_us };
		},
		enabled,
		refetchInterval: LOOK_MS,
		placeholderData: keepPreviousData,
	});
}

export interface Shown {
	answer?: CardAnswer;
	problem?: ProblemDetails;
}

interface Answers {
	cards: Record<string, Shown>;
	/** How long all of it took; nothing while some are on their way. */
	milliseconds?: number;
}

/** What cards show, asked together; each is there as soon as it is known. */
export function useAnswers(definition: Definition | undefined, span: Span | undefined) {
	const queries = useQueryClient();
	const { zone } = useZone();
	// How they are arranged and called changes nothing of that.
	const cards = definition ? cardsOf(definition).map(({ id, drawing, query }) => ({ id, drawing, query })) : [];
	const body = {
		definition: { title: "asked", find: definition?.find ?? "", cards },
		from_us: span?.fromUs ?? null,
		to_us: span?.toUs ?? null,
		utc_offset: utcOffset(span?.fromUs ?? Date.now() * 1000, zone),
	};
	const queryKey = ["board answers", body];
	return useQuery({
		queryKey,
		queryFn: async ({ signal }): Promise<Answers> => {
			const found: Record<string, Shown> = {};
			for await (const part of postedLines<Schemas["BoardPart"]>("/api/boards/answers", body, signal)) {
				if (part.problem && !part.cards) throw new Problem(part.problem);
				if (part.milliseconds !== undefined) return { cards: found, milliseconds: part.milliseconds };
				for (const id of part.cards ?? []) found[id] = { answer: part.answer, problem: part.problem };
				queries.setQueryData(queryKey, { cards: { ...found } });
			}
			throw new Error("The answer was cut short; ask again.");
		},
		enabled: definition !== undefined && span !== undefined && cards.length > 0,
		placeholderData: keepPreviousData,
	});
}

/** The question of a card, of the time of its board. */
export function questionOf(card: Card, find: string, { fromUs, toUs }: Span): Question {
	const question = read(new URLSearchParams(card.query));
	return { ...question, chips: find.trim() ? [...question.chips, find.trim()] : question.chips, fromUs, toUs };
}

/** The part of a question's link that a card keeps. */
export function queryOf(question: Question): string {
	return write({
		...question,
		fromUs: null,
		toUs: null,
		compared: "",
		view: "lines",
		lanes: "",
		columns: [],
		wrap: false,
		whole: false,
		trueTime: false,
		line: null,
		thread: "",
	}).toString();
}
