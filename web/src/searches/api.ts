import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { get, Problem, remove, send } from "../api/client";
import { asked, type Question } from "../shared/question";

export interface Search {
	id: number;
	name: string;
	folder: string;
	tags: string[];
	/** The question as its link has it. */
	query: string;
	changed_us: number;
	deleted: boolean;
}

export interface Starter {
	topic: string;
	name: string;
	find: string;
	formats: string;
	view: string;
	measure: string | null;
	blanks: string[];
	/** Whether it finds something in the window; null when that was not looked at. */
	any: boolean | null;
}

export interface Scope {
	id: number;
	name: string;
	find: string;
}

export interface Draft {
	name: string;
	folder: string;
	tags: string[];
	query: string;
	overwrite?: boolean;
}

export function useSearches() {
	return useQuery({
		queryKey: ["searches"],
		queryFn: ({ signal }) => get<{ searches: Search[] }>("/api/searches", undefined, signal),
	});
}

export function useStarters(question: Question) {
	const params = asked({ ...question, find: "", chips: [], hidden: [] });
	return useQuery({
		queryKey: ["starters", params.toString()],
		queryFn: ({ signal }) => get<{ starters: Starter[] }>("/api/starters", params, signal),
	});
}

export function useScopes() {
	return useQuery({
		queryKey: ["scopes"],
		queryFn: ({ signal }) => get<{ scopes: Scope[] }>("/api/scopes", undefined, signal),
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

export const useSave = () => useChange("searches", (draft: Draft) => send<Search>("POST", "/api/searches", draft));
export const useDelete = () => useChange("searches", (id: number) => remove<Search>(`/api/searches/${id}`));
export const useRestore = () =>
	useChange("searches", (id: number) => send<Search>("POST", `/api/searches/${id}/restored`, {}));
export const useSaveScope = () =>
	useChange("scopes", (scope: { name: string; find: string }) => send<Scope>("PUT", "/api/scopes", scope));
export const useDeleteScope = () => useChange("scopes", (id: number) => remove<Scope>(`/api/scopes/${id}`));

/** Whether something of this name is there already. */
export function exists(error: Error | null): boolean {
	return error instanceof Problem && error.details.status === 409;
}
