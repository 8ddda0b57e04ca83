import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import type { Schemas } from "../api/types";
import { type Question, read, write } from "../shared/question";
import { useZone } from "../shared/zone";

export type Board = Schemas["Board"];
export type BoardInShort = Schemas["Boards"]["boards"][number];
export type Definition = Schemas["BoardDefinition"];
export type Card = Schemas["Card"];
export type Drawing = Card["drawing"];
export type Place = Required<NonNullable<Card["place"]>>;
export type CardAnswer = Schemas["CardAnswer"];
export type DrawingTitle = Schemas["Boards"]["drawings"][number];

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

/** Boards to start with. */
export function useBoardStarters() {
	return useQuery({
		queryKey: [BOARDS, "starters"],
		queryFn: ({ signal }) => answer(api.GET("/api/boards/starters", { signal })),
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
		favour: useMutation({
			mutationFn: ({ id, favourite }: Pick<Board, "id" | "favourite">) =>
				answer(
					favourite ? api.PUT("/api/boards/{id}/favourite", at(id)) : api.DELETE("/api/boards/{id}/favourite", at(id)),
				),
			...settled,
		}),
		allow: useMutation({
			mutationFn: ({ id, access }: Pick<Board, "id" | "access">) =>
				answer(api.PATCH("/api/boards/{id}", { ...at(id), body: { access } })),
			...settled,
		}),
		goBack: useMutation({
			mutationFn: ({ id, version }: { id: number; version: number }) =>
				answer(api.POST("/api/boards/{id}/versions/{version}/restored", { params: { path: { id, version } } })),
			...settled,
		}),
	};
}

/** What a board was before each change. */
export function useVersions(id: number) {
	return useQuery({
		queryKey: [BOARDS, id, "versions"],
		queryFn: ({ signal }) => answer(api.GET("/api/boards/{id}/versions", { ...at(id), signal })),
	});
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

/** The question of a card, narrowed as its board is, and of the time that was asked for. */
export function questionOf(card: Card, conditions: string[], { fromUs, toUs }: Span): Question {
	const question = read(new URLSearchParams(card.query));
	return { ...question, chips: [...question.chips, ...conditions], fromUs, toUs };
}

/** The part of a question's link that a card keeps; lanes where they are what it draws. */
export function queryOf(question: Question, lanes: Question["lanes"] = ""): string {
	return write({
		...question,
		fromUs: null,
		toUs: null,
		compared: "",
		view: "lines",
		lanes,
		columns: [],
		wrap: false,
		whole: false,
		trueTime: false,
		line: null,
		thread: "",
	}).toString();
}
