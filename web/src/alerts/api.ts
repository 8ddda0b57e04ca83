import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import type { Schemas } from "../api/types";
import { windowOf, write } from "../shared/question";
import { useWhyNot } from "../shared/session";
import { DAY_US, duration } from "../shared/time";

export type Alert = Schemas["Alert"];
export type AlertDetail = Schemas["AlertDetail"];
export type AlertState = Alert["state"];
export type AlertRule = Schemas["AlertRule"];
export type Definition = Schemas["AlertRuleDefinition"];
export type Quiet = Schemas["QuietOfRule"];
export type QuietDraft = Pick<Quiet, "kind" | "find" | "why" | "until_us"> &
	Partial<Pick<Quiet, "from_us" | "entries" | "lasts_us" | "says">> & { rule_id?: number };
export type AlertTrial = Schemas["AlertTrial"];
export type Action = "take" | "give" | "give_back" | "close" | "reopen" | "note";

const ALERTS = ["alerts"];
const RULES = ["alert rules"];
const LOOK_MS = 5000;
const at = (id: number) => ({ params: { path: { id } } });

export interface Shown {
	/** All of them where there is none. */
	states: AlertState[];
	/** Without those that nobody is told of, or those alone. */
	quiet?: "no" | "only";
	/** A find text on the rule, the machine and what people say of it. */
	find?: string;
	/** The last so many days; all where there is none. */
	days?: number | undefined;
	/** By which moment they are put in order and set against the days. */
	by?: "raised" | "taken" | "closed" | undefined;
	/** Those that are folded under this one, or all; without it, those that are folded under none. */
	root?: number | "any";
}

export function useAlerts({ states, quiet, root, find, days, by }: Shown) {
	const query = {
		...(states.length > 0 && { state: states.join(",") }),
		...(quiet && { quiet }),
		...(root && { root: String(root) }),
		...(find && { find }),
		...(by && { by }),
	};
	const barred = useWhyNot("GET /api/alerts") !== null;
	return useQuery({
		enabled: !barred,
		queryKey: [...ALERTS, query, days],
		queryFn: ({ signal }) => {
			const from = days && { from: String(Date.now() * 1000 - days * DAY_US) };
			return answer(api.GET("/api/alerts", { params: { query: { ...query, ...from } }, signal }));
		},
		placeholderData: (before) => before,
		refetchInterval: LOOK_MS,
	});
}

export function useAlert(id: number | null) {
	return useQuery({
		queryKey: [...ALERTS, id],
		queryFn: ({ signal }) => answer(api.GET("/api/alerts/{id}", { ...at(id ?? 0), signal })),
		enabled: id !== null,
		refetchInterval: LOOK_MS,
	});
}

/** How what its rule counts or measures went; anew when it goes on. */
export function useAlertCourse({ id, last_us }: AlertDetail) {
	return useQuery({
		queryKey: [...ALERTS, id, "course", last_us],
		queryFn: ({ signal }) => answer(api.GET("/api/alerts/{id}/course", { ...at(id), signal })),
		placeholderData: (before, query) => (query?.queryKey[1] === id ? before : undefined),
		staleTime: Number.POSITIVE_INFINITY,
	});
}

export function useAlertActions() {
	const queries = useQueryClient();
	const settled = { onSettled: () => queries.invalidateQueries({ queryKey: ALERTS }) };
	return {
		act: useMutation({
			mutationFn: (body: { action: Action; ids: number[]; text?: string }) =>
				answer(api.POST("/api/alerts/actions", { body })),
			...settled,
		}),
		undo: useMutation({
			mutationFn: (id: number) => answer(api.POST("/api/alerts/{id}/undone", at(id))),
			...settled,
		}),
	};
}

const QUIETS = ["quiet times"];

/** What is muted and what is planned. */
export function useQuiets() {
	const queries = useQueryClient();
	const settled = {
		onSettled: () =>
			Promise.all([queries.invalidateQueries({ queryKey: QUIETS }), queries.invalidateQueries({ queryKey: ALERTS })]),
	};
	return {
		list: useQuery({
			queryKey: QUIETS,
			queryFn: ({ signal }) => answer(api.GET("/api/alert-quiets", { signal })),
			refetchInterval: LOOK_MS,
		}),
		add: useMutation({
			mutationFn: (body: QuietDraft) => answer(api.POST("/api/alert-quiets", { body })),
			...settled,
		}),
		end: useMutation({
			mutationFn: (id: number) => answer(api.DELETE("/api/alert-quiets/{id}", at(id))),
			...settled,
		}),
		restore: useMutation({
			mutationFn: (id: number) => answer(api.POST("/api/alert-quiets/{id}/restored", at(id))),
			...settled,
		}),
	};
}

/** A find text for the values that an alert is told apart by. */
export const findOf = (key: Alert["key"]) =>
	key.map(({ field, value }) => `${field} = "${value.replaceAll(/["\\]/g, (sign) => `\\${sign}`)}"`).join(" ");

export function useAlertRules() {
	const queries = useQueryClient();
	const settled = { onSettled: () => queries.invalidateQueries({ queryKey: RULES }) };
	const barred = useWhyNot("GET /api/alert-rules") !== null;
	return {
		list: useQuery({
			enabled: !barred,
			queryKey: RULES,
			queryFn: ({ signal }) => answer(api.GET("/api/alert-rules", { signal })),
			refetchInterval: LOOK_MS,
		}),
		keep: useMutation({
			mutationFn: ({ id, ...body }: { id: number | null; definition: Definition; enabled: boolean }) =>
				answer(
					id === null
						? api.POST("/api/alert-rules", { body })
						: api.PATCH("/api/alert-rules/{id}", { ...at(id), body }),
				),
			...settled,
		}),
		turn: useMutation({
			mutationFn: ({ id, enabled }: { id: number; enabled: boolean }) =>
				answer(api.PATCH("/api/alert-rules/{id}", { ...at(id), body: { enabled } })),
			...settled,
		}),
		drop: useMutation({
			mutationFn: (id: number) => answer(api.DELETE("/api/alert-rules/{id}", at(id))),
			...settled,
		}),
		restore: useMutation({
			mutationFn: (id: number) => answer(api.POST("/api/alert-rules/{id}/restored", at(id))),
			...settled,
		}),
	};
}

/** How long it held; at one moment alone, it happened once. */
export function lasted({ raised_us, last_us }: { raised_us: number; last_us: number }): string {
	return last_us === raised_us ? "once" : duration(last_us - raised_us);
}

const MARGIN_US = 60_000_000;

/** Where the lines of an alert are, with a minute on both sides. */
export function linesOf({ find, from_us, last_us }: { find: string; from_us: number; last_us: number }): string {
	return `/?${write({ ...windowOf(from_us - MARGIN_US, last_us + MARGIN_US), find })}`;
}

/** Where a rule is made of a find text. */
export const alertRuleFrom = (find: string) => `/alerts/rules/new?${new URLSearchParams({ find })}`;
