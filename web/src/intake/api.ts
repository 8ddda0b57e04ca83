import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { get, remove, send } from "../api/client";
import type { Line } from "../api/types";

export type Kind = "udp" | "tcp" | "tls" | "http" | "follow" | "command";

/** What came in: by minute of the last hour, the current one last, and within 24 hours. */
export interface Volume {
	lines: number[];
	bytes: number[];
	day_lines: number;
	day_bytes: number;
	unread: number;
	/** How long after its own time a line was received, in the mean of the last hour. */
	lag_ms: number | null;
	last_minute: number | null;
	/** Where the last five minutes are out of what a day says is usual. */
	usual: { lines: number; low: number; high: number; level: "warning" | "alarm"; direction: "more" | "less" } | null;
}

export interface FeedSource {
	id: number;
	name: string;
	lines: number;
	bytes: number;
	unread: number;
	/** Lines that came again and were not taken twice. */
	repeated: number;
	readers: Record<string, number>;
	volume: Volume;
	last: Line | null;
}

export interface Feed {
	id: number;
	name: string;
	kind: Kind;
	settings: Record<string, string | number>;
	paused: boolean;
	problem: string | null;
	/** Days that its lines are kept; null as all others. */
	keep_days: number | null;
	lost: number;
	refused: number;
	volume: Volume;
	sources: FeedSource[];
	/** Told once, when the source is added. */
	token?: string;
}

export interface Feeds {
	feeds: Feed[];
	now_us: number;
	/** Why what comes in cannot be written at present. */
	writing_problem: string | null;
}

export interface Draft {
	name: string;
	kind: Kind;
	settings: Record<string, string | number>;
}

const KEY = ["feeds"];

/** All sources of lines; asked again when something has come in. */
export function useFeeds() {
	const queries = useQueryClient();
	useEffect(() => {
		const news = new EventSource("/api/news");
		news.addEventListener("change", () => void queries.invalidateQueries({ queryKey: KEY }));
		return () => news.close();
	}, [queries]);
	return useQuery({
		queryKey: KEY,
		queryFn: ({ signal }) => get<Feeds>("/api/feeds", undefined, signal),
		refetchInterval: 10_000,
	});
}

function useChange<T>(change: (wanted: T) => Promise<Feed>) {
	const queries = useQueryClient();
	return useMutation({ mutationFn: change, onSettled: () => queries.invalidateQueries({ queryKey: KEY }) });
}

export const useAdd = () => useChange((draft: Draft) => send<Feed>("POST", "/api/feeds", draft));
export const useAlter = () =>
	useChange(({ id, ...wanted }: Partial<Pick<Feed, "name" | "paused" | "settings" | "keep_days">> & { id: number }) =>
		send<Feed>("PATCH", `/api/feeds/${id}`, wanted),
	);
export const useRemove = () => useChange((id: number) => remove<Feed>(`/api/feeds/${id}`));
export const useRestore = () => useChange((id: number) => send<Feed>("POST", `/api/feeds/${id}/restored`, {}));
