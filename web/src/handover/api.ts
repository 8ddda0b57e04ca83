import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import type { Schemas } from "../api/types";

export type Handover = Schemas["Handover"];
export type HandoverInShort = Schemas["Handovers"]["handovers"][number];
export type Section = Schemas["ShiftSection"];
export type Item = Section["items"][number];

const HANDOVERS = "/api/handovers";
const LOOK_MS = 60_000;
const at = (id: number) => ({ params: { path: { id } } });

export function useHandovers(enabled: boolean) {
	return useQuery({
		queryKey: [HANDOVERS],
		queryFn: ({ signal }) => answer(api.GET("/api/handovers", { signal })),
		enabled,
	});
}

export function useHandover(id: number | null) {
	return useQuery({
		queryKey: [HANDOVERS, id],
		queryFn: ({ signal }) => answer(api.GET("/api/handovers/{id}", { ...at(id ?? 0), signal })),
		enabled: id !== null,
		retry: false,
	});
}

/** What there is to tell of a window; from the end of the last handover where none is said. */
export function useSummary(fromUs: number | null, toUs: number | null, enabled: boolean) {
	return useQuery({
		queryKey: [HANDOVERS, "summary", fromUs, toUs],
		queryFn: ({ signal }) => {
			const query = {
				...(fromUs !== null && { from: String(fromUs) }),
				...(toUs !== null && { to: String(toUs) }),
			};
			return answer(api.GET("/api/handovers/summary", { params: { query }, signal }));
		},
		enabled,
		placeholderData: keepPreviousData,
		refetchInterval: toUs === null ? LOOK_MS : false,
	});
}

export function useHandoverChanges() {
	const queries = useQueryClient();
	const settled = { onSettled: () => queries.invalidateQueries({ queryKey: [HANDOVERS] }) };
	return {
		give: useMutation({
			mutationFn: (body: { from_us: number; to_us: number; remarks: string }) =>
				answer(api.POST("/api/handovers", { body })),
			...settled,
		}),
		remark: useMutation({
			mutationFn: ({ id, remarks }: { id: number; remarks: string }) =>
				answer(api.PATCH("/api/handovers/{id}", { ...at(id), body: { remarks } })),
			...settled,
		}),
		acknowledge: useMutation({
			mutationFn: (id: number) => answer(api.POST("/api/handovers/{id}/acknowledged", at(id))),
			...settled,
		}),
	};
}
