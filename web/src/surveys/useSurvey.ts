import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { lines, Problem } from "../api/client";
import type { ProblemDetails } from "../api/types";

interface Part<T> {
	/** Share of the work that is done. */
	done: number;
	answer: T;
	problem?: ProblemDetails;
	/** Whether the person has had enough of it. */
	stopped?: boolean;
}

export interface Survey<T> {
	answer: T | undefined;
	/** 0 to 1 */
	done: number;
	/** Whether the answer is that of the question before. */
	old: boolean;
	running: boolean;
	stopped: boolean;
	error: Error | null;
	stop: () => void;
	again: () => void;
}

/** Work over all lines of a question: what was found so far is shown while it goes on, and it can be stopped. */
export function useSurvey<T>(path: string, params: URLSearchParams, enabled = true): Survey<T> {
	const queries = useQueryClient();
	const stopping = useRef(new AbortController());
	const queryKey = [path, params.toString()];
	const query = useQuery({
		queryKey,
		queryFn: async ({ signal }) => {
			const own = new AbortController();
			stopping.current = own;
			let latest: Part<T> | undefined;
			try {
				for await (const part of lines<Part<T>>(path, params, AbortSignal.any([signal, own.signal]))) {
					if (part.problem) throw new Problem(part.problem);
					latest = part;
					queries.setQueryData(queryKey, part);
				}
			} catch (error) {
				if (!own.signal.aborted || !latest) throw error;
				return { ...latest, stopped: true };
			}
			// A part must not pass for the whole.
			if (latest?.done !== 1) throw new Error("The answer was cut short; ask again.");
			return latest;
		},
		placeholderData: keepPreviousData,
		enabled,
	});
	return {
		answer: query.data?.answer,
		done: query.isPlaceholderData ? 0 : (query.data?.done ?? 0),
		old: query.isPlaceholderData,
		running: query.isFetching,
		stopped: query.data?.stopped ?? false,
		error: query.error,
		stop: () => stopping.current.abort(),
		again: () => void query.refetch(),
	};
}
