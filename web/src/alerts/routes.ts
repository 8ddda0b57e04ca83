import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import type { Schemas } from "../api/types";
import type { Given, Setting } from "../intake/SettingFields";
import type { Calls } from "../rules/api";
import { type HoursDraft, hoursDraft, hoursInWords, hoursOf } from "./hours";

export type Route = Schemas["AlertRoute"];
export type RouteKind = Route["kind"];
export type Delivery = Schemas["Delivery"];
type Wanted = Schemas["AlertRouteDefinition"];
type Sent = Pick<Route, "name" | "kind" | "definition"> & { settings: Record<string, unknown>; enabled?: boolean };

const at = (id: number) => ({ params: { path: { id } } });

export const ROUTES: Calls<Schemas["AlertRoutes"], Route, Sent> = {
	key: "/api/alert-routes",
	list: (signal) => answer(api.GET("/api/alert-routes", { signal })),
	add: (body) => answer(api.POST("/api/alert-routes", { body: body as Schemas["AlertRoute"] })),
	alter: (id, { kind: _, ...body }) =>
		answer(api.PATCH("/api/alert-routes/{id}", { ...at(id), body: body as Partial<Schemas["AlertRoute"]> })),
	drop: (id) => answer(api.DELETE("/api/alert-routes/{id}", at(id))),
	restore: (id) => answer(api.POST("/api/alert-routes/{id}/restored", at(id))),
};

const HOST: Setting = { name: "host", label: "Machine", placeholder: "noc.example" };
const CERTIFICATE: Setting = {
	name: "certificate",
	label: "Its certificate",
	description: "PEM; empty for those that this computer trusts",
	placeholder: "-----BEGIN CERTIFICATE-----",
	long: true,
};

/** The ways that a message may go, and what each has to be told. */
export const KINDS: Record<RouteKind, { title: string; settings: Setting[] }> = {
	mail: {
		title: "mail",
		settings: [
			{
				name: "to",
				label: "To",
				placeholder: "oncall@example.org, Ida, Network",
				description: "mail addresses, people, teams",
			},
		],
	},
	hook: {
		title: "web hook",
		settings: [
			{ name: "url", label: "Address", placeholder: "https://desk.example/alerts" },
			{ name: "secret", label: "Secret", description: "signs each message; one that was set stays when this is empty" },
			CERTIFICATE,
		],
	},
	syslog: {
		title: "syslog",
		settings: [
			HOST,
			{ name: "port", label: "Port", placeholder: "514" },
			{ name: "transport", label: "Transport", placeholder: "udp", description: "udp, tcp or tls" },
			CERTIFICATE,
		],
	},
	trap: {
		title: "SNMP trap",
		settings: [
			HOST,
			{ name: "port", label: "Port", placeholder: "162" },
			{ name: "secret", label: "Community", placeholder: "public" },
		],
	},
	program: {
		title: "program",
		settings: [{ name: "program", label: "Program", description: "a file in the folder that the settings file names" }],
	},
};

/** Where a route leads, in short. */
export function place({ settings }: Pick<Route, "settings">): string {
	if (settings.to) return settings.to.join(", ");
	return String(settings.url ?? settings.program ?? `${settings.host}:${settings.port}`);
}

/** A route as it is typed. */
export interface RouteDraft extends HoursDraft {
	name: string;
	kind: RouteKind;
	settings: Given;
	severity: NonNullable<Wanted["severity"]>;
	tags: string[];
	rules: string[];
	owners: string[];
	find: string;
	wait: string;
	digest: string;
	most: number;
	back: boolean;
	subject: string;
	text: string;
}

export const MOST = 20;

/** @param route null for a new one */
export function draftOf(route: Route | null): RouteDraft {
	const { hours, ...wanted } = route?.definition ?? {};
	const { to, ...settings } = route?.settings ?? {};
	const given = Object.entries({ ...settings, ...(to && { to: to.join(", ") }) });
	return {
		name: route?.name ?? "",
		kind: route?.kind ?? "mail",
		settings: Object.fromEntries(given.map(([name, value]) => [name, String(value ?? "")])),
		severity: wanted.severity ?? "warning",
		tags: wanted.tags ?? [],
		rules: wanted.rules ?? [],
		find: wanted.find ?? "",
		...hoursDraft(hours),
		owners: wanted.owners ?? [],
		wait: wanted.wait ?? "",
		digest: wanted.digest ?? "",
		most: wanted.most ?? MOST,
		back: wanted.back ?? false,
		subject: wanted.subject ?? "",
		text: wanted.text ?? "",
	};
}

/** What is kept of a draft: nothing that is as usual. */
export function definitionOf(draft: RouteDraft, zone: string): Wanted {
	const hours = hoursOf(draft, zone);
	const texts = ["find", "wait", "digest", "subject", "text"] as const;
	return {
		severity: draft.severity,
		...(draft.tags.length > 0 && { tags: draft.tags }),
		...(draft.rules.length > 0 && { rules: draft.rules }),
		...(draft.owners.length > 0 && { owners: draft.owners }),
		...(hours && { hours }),
		...(draft.most !== MOST && { most: draft.most }),
		...(draft.back && { back: true }),
		...Object.fromEntries(texts.filter((name) => draft[name].trim() !== "").map((name) => [name, draft[name]])),
	};
}

/** When a route tells, in words. */
export function whenOf({ severity, tags, rules, owners, find, hours, wait, digest, back }: Wanted): string {
	return [
		`${severity ?? "warning"} or worse`,
		rules?.length ? `of ${rules.join(", ")}` : "",
		tags?.length ? `tagged ${tags.join(", ")}` : "",
		owners?.length ? `whose owner is ${owners.join(" or ")}` : "",
		find ?? "",
		hoursInWords(hours),
		wait ? `not taken for ${wait}` : "",
		digest ? `together every ${digest}` : "",
		back ? "and back to normal" : "",
	]
		.filter(Boolean)
		.join(", ");
}

const DELIVERIES = "/api/deliveries";
const LOOK_MS = 3000;

/** @param state those that are shown; all where it is empty */
export function useDeliveries(state: string) {
	const queries = useQueryClient();
	const list = useQuery({
		queryKey: [DELIVERIES, state],
		queryFn: ({ signal }) => answer(api.GET(DELIVERIES, { params: { query: state ? { state } : {} }, signal })),
		refetchInterval: LOOK_MS,
	});
	const settled = { onSettled: () => queries.invalidateQueries({ queryKey: [DELIVERIES] }) };
	const retry = useMutation({ mutationFn: () => answer(api.POST("/api/deliveries/retried")), ...settled });
	const test = useMutation({
		mutationFn: (id: number) => answer(api.POST("/api/alert-routes/{id}/tests", at(id))),
		...settled,
	});
	return { list, retry, test };
}

/** What a message would say of the latest alert. */
export function usePreview(definition: Wanted, occasion: "raised" | "back", enabled: boolean) {
	return useQuery({
		enabled,
		queryKey: ["alert preview", definition, occasion],
		queryFn: ({ signal }) => answer(api.POST("/api/alert-routes/preview", { body: { definition, occasion }, signal })),
		retry: false,
		placeholderData: (before) => before,
	});
}
