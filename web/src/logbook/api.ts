import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { get, send } from "../api/client";
import type { Happening, Line } from "../api/types";
import { useRules as useRuleList } from "../rules/api";

export interface LogbookPage {
	happenings: Happening[];
	total: number;
	kinds: { kind: string; title: string; count: number }[];
	days: { from_us: number; severities: number[] }[];
	persons: { name: string; count: number }[];
	rules: number;
	/** Share of the lines that were read again, while rules are new. */
	reading: number | null;
}

export interface Look {
	says: string;
	machine: string | null;
	/** How lines of it are found. */
	find: string | null;
	/** How many of them there are around the time; null when it is not known of which machine. */
	lines: number | null;
}

export interface Restart {
	/** Of the line that tells the start. */
	id: string;
	machine: string;
	/** Null when the machine itself started. */
	service: string | null;
	start_us: number;
	/** When it was last heard of before. */
	last_heard_us: number | null;
	reason: string;
	says: string;
	person: string | null;
	confidence: "sure" | "likely" | "none";
	evidence: Happening[];
	against: Happening[];
	/** What is not there though it would have been told. */
	missing: string[];
	weighed: { reason: string; says: string; weight: number; refuted: boolean }[];
	/** What would settle it. */
	look: Look[];
}

export interface ShippedRule {
	id: string;
	kind: string;
	find: string;
	take: string | null;
	says: string;
	severity: string | null;
	source: string;
	samples: string[];
	enabled: boolean;
	happenings: number;
}

export interface RuleDraft {
	name: string;
	kind: string;
	find: string;
	take: string;
	says: string;
	severity: string | null;
}

export interface OwnRule extends RuleDraft {
	id: number;
	enabled: boolean;
	happenings: number;
}

export interface Rules {
	families: { name: string; title: string; rules: ShippedRule[] }[];
	own: OwnRule[];
	kinds: { kind: string; title: string }[];
	reading: number | null;
}

export interface RuleTrial {
	lines: number;
	looked_at: number;
	read: number;
	samples: { line: Line; says: string; person: string | null; severity: number }[];
}

export const RULES = "/api/logbook-rules";

export function useRestarts() {
	return useQuery({
		queryKey: ["restarts"],
		queryFn: ({ signal }) => get<{ restarts: Restart[]; total: number }>("/api/restarts", undefined, signal),
		refetchInterval: 30_000,
	});
}

/** What is asked of the logbook; stands in the address of the page. */
export function useLogbook(asked: URLSearchParams, enabled = true) {
	return useQuery({
		queryKey: ["logbook", asked.toString()],
		queryFn: ({ signal }) => get<LogbookPage>("/api/logbook", asked, signal),
		placeholderData: keepPreviousData,
		refetchInterval: ({ state }) => (state.data?.reading == null ? 15_000 : 1000),
		enabled,
	});
}

export function useRules() {
	const queries = useQueryClient();
	const turn = useMutation({
		mutationFn: ({ id, enabled }: { id: string; enabled: boolean }) =>
			send<ShippedRule>("PUT", `${RULES}/switches/${encodeURIComponent(id)}`, { enabled }),
		onSettled: () => queries.invalidateQueries(),
	});
	return { ...useRuleList<Rules, OwnRule>(RULES, (rules) => rules.reading !== null), turn };
}

export const tryRule = (draft: RuleDraft) => send<RuleTrial>("POST", `${RULES}/trial`, draft);

/** Where a rule is made from a find text. */
export const ruleFrom = (find: string) => `/logbook/rules/new?${new URLSearchParams({ find })}`;
