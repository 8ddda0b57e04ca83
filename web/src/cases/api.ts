import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api, asking } from "../api/client";
import type { Schemas } from "../api/types";

export type Case = Schemas["Case"];
export type Pin = Schemas["Pin"];
export type Chart = NonNullable<Pin["chart"]>;
export type WholeCase = Schemas["WholeCase"];

export type Pinned =
	| { kind: "line" | "happening"; id: string }
	| { kind: "pattern"; pattern: string; asked: URLSearchParams }
	| { kind: "chart"; text: string; query: string; asked: URLSearchParams }
	| { kind: "note"; text: string; at_us: number };

export const CASES = "/api/cases";

/** What people say of a case. */
type Facts = Partial<Pick<Case, "title" | "status" | "onset_us" | "cause" | "remedy" | "effect" | "note">>;

const at = (id: number) => ({ params: { path: { id } } });
const pinAt = (id: number, pin: number) => ({ params: { path: { id, pin } } });

export function useCases(text: string) {
	return useQuery({
		queryKey: [CASES, text],
		queryFn: ({ signal }) => answer(api.GET("/api/cases", { params: { query: { text } }, signal })),
	});
}

export function useCase(id: number | null) {
	return useQuery({
		queryKey: [CASES, id],
		queryFn: ({ signal }) => answer(api.GET("/api/cases/{id}", { ...at(id ?? 0), signal })),
		enabled: id !== null,
		retry: false,
	});
}

/** What can be done with cases and their pins; what is taken out can be had back. */
export function useCaseChanges() {
	const queries = useQueryClient();
	const settled = { onSettled: () => queries.invalidateQueries({ queryKey: [CASES] }) };
	const start = useMutation({
		mutationFn: (body: { title: string; onset_us?: number | null }) => answer(api.POST("/api/cases", { body })),
		...settled,
	});
	const alter = useMutation({
		mutationFn: ({ id, ...body }: Facts & { id: number }) => answer(api.PATCH("/api/cases/{id}", { ...at(id), body })),
		...settled,
	});
	const drop = useMutation({ mutationFn: (id: number) => answer(api.DELETE("/api/cases/{id}", at(id))), ...settled });
	const restore = useMutation({
		mutationFn: (id: number) => answer(api.POST("/api/cases/{id}/restored", at(id))),
		...settled,
	});
	const pin = useMutation({
		mutationFn: ({ id, what }: { id: number; what: Pinned }) => {
			const { asked, ...body } = { asked: new URLSearchParams(), ...what };
			return answer(api.POST("/api/cases/{id}/pins", { ...asking(asked, { id }), body }));
		},
		...settled,
	});
	const annotate = useMutation({
		mutationFn: ({ id, pin, note }: { id: number; pin: number; note: string }) =>
			answer(api.PATCH("/api/cases/{id}/pins/{pin}", { ...pinAt(id, pin), body: { note } })),
		...settled,
	});
	const unpin = useMutation({
		mutationFn: ({ id, pin }: { id: number; pin: number }) =>
			answer(api.DELETE("/api/cases/{id}/pins/{pin}", pinAt(id, pin))),
		...settled,
	});
	const repin = useMutation({
		mutationFn: ({ id, pin }: { id: number; pin: number }) =>
			answer(api.POST("/api/cases/{id}/pins/{pin}/restored", pinAt(id, pin))),
		...settled,
	});
	return { start, alter, drop, restore, pin, annotate, unpin, repin };
}
