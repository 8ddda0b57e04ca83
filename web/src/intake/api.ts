import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { answer, api } from "../api/client";
import type { Schemas } from "../api/types";
import { onNews } from "../shared/events";

export type Feed = Schemas["Feed"];
export type Kind = Feed["kind"];
/** What came in: by minute of the last hour, the current one last, and within 24 hours. */
export type Volume = Schemas["Volume"];
export type FeedSource = Schemas["FeedSource"];
export type Settings = Schemas["FeedSettings"];

/** Those that are added here: a command is added by hand, and what people did comes in by itself. */
export type Added = Exclude<Kind, "command" | "audit">;

export interface Draft {
	name: string;
	kind: Added;
	settings: Settings;
}

const KEY = ["feeds"];

/** All sources of lines; asked again when something has come in. */
export function useFeeds() {
	const queries = useQueryClient();
	useEffect(() => {
		return onNews(() => void queries.invalidateQueries({ queryKey: KEY }));
	}, [queries]);
	return useQuery({
		queryKey: KEY,
		queryFn: ({ signal }) => answer(api.GET("/api/feeds", { signal })),
		refetchInterval: 10_000,
	});
}

function useChange<T>(change: (wanted: T) => Promise<Feed>) {
	const queries = useQueryClient();
	return useMutation({ mutationFn: change, onSettled: () => queries.invalidateQueries({ queryKey: KEY }) });
}

const at = (id: number) => ({ params: { path: { id } } });

export const useAdd = () => useChange((body: Draft) => answer(api.POST("/api/feeds", { body })));
export const useAlter = () =>
	useChange(({ id, ...body }: Partial<Pick<Feed, "name" | "paused" | "settings" | "keep_days">> & { id: number }) =>
		answer(api.PATCH("/api/feeds/{id}", { ...at(id), body })),
	);
export const useRemove = () => useChange((id: number) => answer(api.DELETE("/api/feeds/{id}", at(id))));
export const useRestore = () => useChange((id: number) => answer(api.POST("/api/feeds/{id}/restored", at(id))));
