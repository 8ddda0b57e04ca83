import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import type { Schemas } from "../api/types";

export type Oddity = Schemas["Oddity"];
export type OddityDetail = Schemas["OddityDetail"];
export type OddityState = Oddity["state"];
export type Shown = OddityState | "all";

const UNUSUAL = ["unusual"];
const LOOK_MS = 30_000;
const at = (id: number) => ({ params: { path: { id } } });

export function useUnusual(state: Shown, priority: number) {
	const query = { state, priority };
	return useQuery({
		queryKey: [...UNUSUAL, query],
		queryFn: ({ signal }) => answer(api.GET("/api/unusual", { params: { query }, signal })),
		refetchInterval: LOOK_MS,
	});
}

export function useOddity(id: number) {
	return useQuery({
		queryKey: [...UNUSUAL, id],
		queryFn: ({ signal }) => answer(api.GET("/api/unusual/{id}", { ...at(id), signal })),
	});
}

export interface Said {
	id: number;
	state: OddityState;
	until_us?: number | null;
	why?: string;
}

/** Leaves a source out, or watches it again. */
export function useLeaveOut() {
	const queries = useQueryClient();
	return useMutation({
		mutationFn: ({ id, unusual }: { id: number; unusual: boolean }) =>
			answer(api.PATCH("/api/sources/{id}", { ...at(id), body: { unusual } })),
		onSettled: () => queries.invalidateQueries({ queryKey: UNUSUAL }),
	});
}

/** Says of one what it is: open, muted or normal. */
export function useSay() {
	const queries = useQueryClient();
	return useMutation({
		mutationFn: ({ id, ...body }: Said) => answer(api.PUT("/api/unusual/{id}/state", { ...at(id), body })),
		onSettled: () => queries.invalidateQueries({ queryKey: UNUSUAL }),
	});
}
