import { keepPreviousData, useInfiniteQuery, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api, asking } from "../api/client";
import type { Schemas } from "../api/types";

export type RosterEntry = Schemas["RosterEntry"];
export type Machine = Schemas["FleetMachine"];
export type Edge = Schemas["Edge"];
export type FleetRow = Schemas["FleetPage"]["rows"][number];
export type Proposal = Schemas["FleetProposals"]["proposals"][number];
export type Availability = Schemas["Availability"];
export type Group = Availability["groups"][number];
export type Stretch = Group["stretches"][number];

export const FLEET = "/api/fleet";

const AGAIN_MS = 15_000;

/** The machines, under what people say of them, piece by piece. */
export function useFleet(by: By, text: string) {
	return useInfiniteQuery({
		queryKey: [FLEET, "list", by, text],
		initialPageParam: null as FleetRow | null,
		queryFn: ({ pageParam: last, signal }) => {
			const params = new URLSearchParams({ by, text });
			if (last) {
				params.set("after", last.machine.machine);
				if (last.group !== null) params.set("after_group", last.group);
			}
			return answer(api.GET("/api/fleet", { ...asking(params), signal }));
		},
		getNextPageParam: (page) => (page.more ? page.rows.at(-1) : undefined),
		placeholderData: keepPreviousData,
		refetchInterval: AGAIN_MS,
	});
}

export function useFleetMap() {
	return useQuery({
		queryKey: [FLEET, "map"],
		queryFn: ({ signal }) => answer(api.GET("/api/fleet/map", { signal })),
		refetchInterval: AGAIN_MS,
	});
}

export function useProposals(enabled: boolean) {
	return useQuery({
		queryKey: [FLEET, "proposals"],
		queryFn: ({ signal }) => answer(api.GET("/api/fleet/proposals", { signal })),
		enabled,
	});
}

export function useAvailability(by: string, days: number, zone: string) {
	const params = new URLSearchParams({ by, zone, from: String((Date.now() - days * 86_400_000) * 1000) });
	return useQuery({
		queryKey: [FLEET, "availability", by, days, zone],
		queryFn: ({ signal }) => answer(api.GET("/api/fleet/availability", { ...asking(params), signal })),
	});
}

/** A table in CSV or JSON; the server tells which. */
async function takeTable(file: File): Promise<Schemas["Taken"]> {
	const text = await file.text();
	return answer(api.POST("/api/fleet/table", { body: text as never, bodySerializer: () => text }));
}

export function useFleetChanges() {
	const queries = useQueryClient();
	const settled = { onSettled: () => queries.invalidateQueries() };
	const say = useMutation({
		mutationFn: ({ machine, ...said }: RosterEntry) =>
			answer(api.PUT("/api/fleet/machines/{name}", { params: { path: { name: machine } }, body: said })),
		...settled,
	});
	const call = useMutation({
		mutationFn: ({ machine, name }: { machine: string; name: string }) =>
			answer(api.PATCH("/api/fleet/machines/{name}", { params: { path: { name: machine } }, body: { name } })),
		...settled,
	});
	const arrow = useMutation({
		mutationFn: (edge: Edge) => answer(api.POST("/api/fleet/dependencies", { body: edge })),
		...settled,
	});
	const table = useMutation({ mutationFn: takeTable, ...settled });
	return { say, call, arrow, table };
}

export type By = "site" | "role" | "tag";

/** Rows that stand under one heading: they come in that order. */
export function grouped(rows: FleetRow[]): FleetRow[][] {
	const groups: FleetRow[][] = [];
	for (const row of rows) {
		const last = groups.at(-1);
		if (last && last[0]?.group === row.group) last.push(row);
		else groups.push([row]);
	}
	return groups;
}

/** The worst that stands open: severity of an alert or of a problem that has not ended; null when there is none. */
export function worst({ alerts, problems }: Pick<Machine, "alerts" | "problems">): number | null {
	const open = [...alerts.first, ...problems].map((one) => one.severity);
	return open.length ? Math.min(...open) : null;
}
