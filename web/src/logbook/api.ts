import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { get } from "../api/client";

export interface Happening {
	/** Of the line that tells it. */
	id: string;
	time_us: number;
	rule: string;
	kind: string;
	severity: number;
	machine: string | null;
	service: string | null;
	says: string;
}

export interface LogbookPage {
	happenings: Happening[];
	total: number;
	kinds: { kind: string; title: string; count: number }[];
	days: { from_us: number; severities: number[] }[];
	rules: number;
}

export interface Restart {
	/** Of the line that tells the start. */
	id: string;
	machine: string;
	start_us: number;
	/** When it was last heard of before. */
	last_heard_us: number | null;
	reason: string;
	says: string;
	confidence: "sure" | "likely" | "none";
	evidence: Happening[];
	against: Happening[];
	/** What would settle it. */
	look: string[];
}

export function useRestarts() {
	return useQuery({
		queryKey: ["restarts"],
		queryFn: ({ signal }) => get<{ restarts: Restart[]; total: number }>("/api/restarts", undefined, signal),
		refetchInterval: 30_000,
	});
}

/** What is asked of the logbook; stands in the address of the page. */
export function useLogbook(asked: URLSearchParams) {
	return useQuery({
		queryKey: ["logbook", asked.toString()],
		queryFn: ({ signal }) => get<LogbookPage>("/api/logbook", asked, signal),
		placeholderData: keepPreviousData,
		refetchInterval: 15_000,
	});
}
