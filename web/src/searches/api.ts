import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api, asking, Problem } from "../api/client";
import type { Schemas } from "../api/types";
import { asked, type Question } from "../shared/question";

export type Search = Schemas["Search"];
export type Starter = Schemas["Starters"]["starters"][number];
export type Scope = Schemas["Scope"];

export interface Draft {
	name: string;
	folder: string;
	tags: string[];
	query: string;
	/** That it belongs to; null: everybody. */
	team: number | null;
	overwrite?: boolean;
}

export function useSearches() {
	return useQuery({
		queryKey: ["searches"],
		queryFn: ({ signal }) => answer(api.GET("/api/searches", { signal })),
	});
}

export function useStarters(question: Question) {
	const params = asked({ ...question, find: "", chips: [], hidden: [] });
	return useQuery({
		queryKey: ["starters", params.toString()],
		queryFn: ({ signal }) => answer(api.GET("/api/starters", { ...asking(params), signal })),
	});
}

export function useScopes() {
	return useQuery({
		queryKey: ["scopes"],
		queryFn: ({ signal }) => answer(api.GET("/api/scopes", { signal })),
	});
}

/** What changes the list of a name, and shows the list anew. */
function useChange<T, R>(list: string, change: (wanted: T) => Promise<R>) {
	const queries = useQueryClient();
	return useMutation<R, Error, T>({
		mutationFn: change,
		onSuccess: () => void queries.invalidateQueries({ queryKey: [list] }),
	});
}

const at = (id: number) => ({ params: { path: { id } } });

export const useSave = () => useChange("searches", (body: Draft) => answer(api.POST("/api/searches", { body })));
export const useDelete = () => useChange("searches", (id: number) => answer(api.DELETE("/api/searches/{id}", at(id))));
export const useRestore = () =>
	useChange("searches", (id: number) => answer(api.POST("/api/searches/{id}/restored", at(id))));
export const useSaveScope = () =>
	useChange("scopes", (body: { name: string; find: string }) => answer(api.PUT("/api/scopes", { body })));
export const useDeleteScope = () => useChange("scopes", (id: number) => answer(api.DELETE("/api/scopes/{id}", at(id))));

/** Whether something of this name is there already. */
export function exists(error: Error | null): boolean {
	return error instanceof Problem && error.details.status === 409;
}
