import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { get, remove, send } from "../api/client";

export interface Case {
	id: number;
	title: string;
	status: "open" | "closed";
	onset_us: number | null;
	cause: string;
	remedy: string;
	effect: string;
	note: string;
	created_us: number;
	changed_us: number;
	closed_us: number | null;
	pins: number;
}

export interface Chart {
	start_us: number;
	step_us: number;
	/** Counts of the nine severities by step. */
	counts: number[][];
}

export interface Pin {
	id: number;
	kind: "line" | "pattern" | "chart" | "happening" | "note";
	/** When it truly happened. */
	at_us: number;
	/** As its own machine has it. */
	told_us: number;
	event_id: string | null;
	pattern: string | null;
	machine: string | null;
	service: string | null;
	severity: number | null;
	text: string;
	query: string | null;
	chart: Chart | null;
	source: string | null;
	sha256: string | null;
	raw: string | null;
	note: string;
}

export interface WholeCase extends Case {
	timeline: Pin[];
}

export type Pinned =
	| { kind: "line" | "happening"; id: string }
	| { kind: "pattern"; pattern: string; asked: URLSearchParams }
	| { kind: "chart"; text: string; query: string; asked: URLSearchParams }
	| { kind: "note"; text: string; at_us: number };

export const CASES = "/api/cases";

export function useCases(text: string) {
	return useQuery({
		queryKey: [CASES, text],
		queryFn: ({ signal }) => get<{ cases: Case[] }>(CASES, new URLSearchParams({ text }), signal),
	});
}

export function useCase(id: number | null) {
	return useQuery({
		queryKey: [CASES, id],
		queryFn: ({ signal }) => get<WholeCase>(`${CASES}/${id}`, undefined, signal),
		enabled: id !== null,
		retry: false,
	});
}

/** What can be done with cases and their pins; what is taken out can be had back. */
export function useCaseChanges() {
	const queries = useQueryClient();
	const settled = { onSettled: () => queries.invalidateQueries({ queryKey: [CASES] }) };
	const start = useMutation({
		mutationFn: (wanted: { title: string; onset_us?: number | null }) => send<Case>("POST", CASES, wanted),
		...settled,
	});
	const alter = useMutation({
		mutationFn: ({ id, ...wanted }: Partial<Case> & { id: number }) => send<Case>("PATCH", `${CASES}/${id}`, wanted),
		...settled,
	});
	const drop = useMutation({ mutationFn: (id: number) => remove<Case>(`${CASES}/${id}`), ...settled });
	const restore = useMutation({
		mutationFn: (id: number) => send<Case>("POST", `${CASES}/${id}/restored`, {}),
		...settled,
	});
	const pin = useMutation({
		mutationFn: ({ id, what }: { id: number; what: Pinned }) => {
			const { asked, ...object } = { asked: undefined, ...what };
			return send<Pin>("POST", `${CASES}/${id}/pins${asked ? `?${asked}` : ""}`, object);
		},
		...settled,
	});
	const annotate = useMutation({
		mutationFn: ({ id, pin, note }: { id: number; pin: number; note: string }) =>
			send<Pin>("PATCH", `${CASES}/${id}/pins/${pin}`, { note }),
		...settled,
	});
	const unpin = useMutation({
		mutationFn: ({ id, pin }: { id: number; pin: number }) => remove<Pin>(`${CASES}/${id}/pins/${pin}`),
		...settled,
	});
	const repin = useMutation({
		mutationFn: ({ id, pin }: { id: number; pin: number }) =>
			send<Pin>("POST", `${CASES}/${id}/pins/${pin}/restored`, {}),
		...settled,
	});
	return { start, alter, drop, restore, pin, annotate, unpin, repin };
}
