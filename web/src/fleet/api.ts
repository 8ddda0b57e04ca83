import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api, asking } from "../api/client";
import type { Schemas } from "../api/types";

export type RosterEntry = Schemas["RosterEntry"];
export type Machine = Schemas["FleetMachine"];
export type Edge = Schemas["Edge"];
export type FleetAnswer = Schemas["Fleet"];
export type Proposal = Schemas["FleetProposals"]["proposals"][number];
export type Availability = Schemas["Availability"];
export type Group = Availability["groups"][number];
export type Stretch = Group["stretches"][number];

export const FLEET = "/api/fleet";

export function useFleet() {
	return useQuery({
		queryKey: [FLEET],
		queryFn: ({ signal }) => answer(api.GET("/api/fleet", { signal })),
		refetchInterval: 15_000,
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

/** Machines by what people say of them; those of whom nothing is said come last. */
export function grouped(machines: Machine[], by: By): [name: string, machines: Machine[]][] {
	const groups = new Map<string, Machine[]>();
	for (const machine of machines) {
		const names = by === "tag" ? machine.tags : [machine[by]].filter((name) => name !== null);
		for (const name of names.length ? names : [""]) groups.set(name, [...(groups.get(name) ?? []), machine]);
	}
	return [...groups].sort(([one], [other]) => (one === "" ? 1 : other === "" ? -1 : one.localeCompare(other)));
}

/** The worst that has not ended: severity of a problem; null when there is none. */
export function worst(machine: Machine): number | null {
	return machine.problems.length ? Math.min(...machine.problems.map((one) => one.severity)) : null;
}
