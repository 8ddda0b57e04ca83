import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api, asking } from "../api/client";
import type { Schemas } from "../api/types";
import { type Calls, useRules as useRuleList } from "../rules/api";

export type LogbookPage = Schemas["LogbookPage"];
export type Restart = Schemas["Restart"];
export type Look = Restart["look"][number];
export type ShippedRule = Schemas["ShippedLogbookRule"];
export type RuleDraft = Required<Schemas["LogbookRuleDraft"]>;
export type OwnRule = Schemas["OwnLogbookRule"];
export type Rules = Schemas["LogbookRules"];
export type RuleTrial = Schemas["LogbookRuleTrial"];

const at = (id: number) => ({ params: { path: { id } } });
const RULES: Calls<Rules, OwnRule, RuleDraft> = {
	key: "/api/logbook-rules",
	list: (signal) => answer(api.GET("/api/logbook-rules", { signal })),
	add: (body) => answer(api.POST("/api/logbook-rules", { body })),
	alter: (id, body) => answer(api.PATCH("/api/logbook-rules/{id}", { ...at(id), body })),
	drop: (id) => answer(api.DELETE("/api/logbook-rules/{id}", at(id))),
	restore: (id) => answer(api.POST("/api/logbook-rules/{id}/restored", at(id))),
};

export function useRestarts() {
	return useQuery({
		queryKey: ["restarts"],
		queryFn: ({ signal }) => answer(api.GET("/api/restarts", { signal })),
		refetchInterval: 30_000,
	});
}

/** What is asked of the logbook; stands in the address of the page. */
export function useLogbook(asked: URLSearchParams, enabled = true) {
	return useQuery({
		queryKey: ["logbook", asked.toString()],
		queryFn: ({ signal }) => answer(api.GET("/api/logbook", { ...asking(asked), signal })),
		placeholderData: keepPreviousData,
		refetchInterval: ({ state }) => (state.data?.reading == null ? 15_000 : 1000),
		enabled,
	});
}

export function useRules() {
	const queries = useQueryClient();
	const turn = useMutation({
		mutationFn: ({ id, enabled }: { id: string; enabled: boolean }) =>
			answer(api.PUT("/api/logbook-rules/switches/{rule}", { params: { path: { rule: id } }, body: { enabled } })),
		onSettled: () => queries.invalidateQueries(),
	});
	return { ...useRuleList(RULES, (rules) => rules.reading !== null), turn };
}

export const tryRule = (draft: RuleDraft) => answer(api.POST("/api/logbook-rules/trial", { body: draft }));

/** Where a rule is made from a find text. */
export const ruleFrom = (find: string) => `/logbook/rules/new?${new URLSearchParams({ find })}`;
