import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { get, send } from "../api/client";
import type { Happening } from "../api/types";

export interface RosterEntry {
	machine: string;
	site: string | null;
	role: string | null;
	tags: string[];
	needs: string[];
	runs_on: string | null;
}

export interface Machine extends RosterEntry {
	/** Counts of the nine severities by hour. */
	strip: number[][];
	heard_us: number | null;
	silent_us: number | null;
	restarts: number;
	versions: Record<string, string>;
	tier: number;
	problems: (Happening & { times: number })[];
}

export interface Edge {
	machine: string;
	on: string;
	kind: "needs" | "runs-on";
}

export interface FleetAnswer {
	machines: Machine[];
	edges: Edge[];
	start_us: number;
	to_us: number;
}

export interface Proposal {
	machine: string;
	on: string;
	/** Lines in which it names the other, and in which the other names it. */
	lines: number;
	back: number;
}

export interface Stretch {
	machine: string;
	state: "down" | "silent";
	from_us: number;
	to_us: number;
	says: string;
	happening: string | null;
}

export interface Group {
	name: string | null;
	machines: string[];
	days: { day_us: number; known_us: number; up_us: number; down_us: number; silent_us: number }[];
	stretches: Stretch[];
}

export interface Availability {
	from_us: number;
	to_us: number;
	groups: Group[];
}

export const FLEET = "/api/fleet";

export function useFleet() {
	return useQuery({
		queryKey: [FLEET],
		queryFn: ({ signal }) => get<FleetAnswer>(FLEET, undefined, signal),
		refetchInterval: 15_000,
	});
}

export function useProposals(enabled: boolean) {
	return useQuery({
		queryKey: [FLEET, "proposals"],
		queryFn: ({ signal }) => get<{ proposals: Proposal[] }>(`${FLEET}/proposals`, undefined, signal),
		enabled,
	});
}

export function useAvailability(by: string, days: number, zone: string) {
	const params = new URLSearchParams({ by, zone, from: String((Date.now() - days * 86_400_000) * 1000) });
	return useQuery({
		queryKey: [FLEET, "availability", by, days, zone],
		queryFn: ({ signal }) => get<Availability>(`${FLEET}/availability`, params, signal),
	});
}

async function takeTable(file: File): Promise<{ machines: number }> {
	const response = await fetch(`${FLEET}/table`, { method: "POST", body: await file.text() });
	const body = (await response.json()) as { machines: number; detail?: string };
	if (!response.ok) throw new Error(body.detail);
	return body;
}

export function useFleetChanges() {
	const queries = useQueryClient();
	const settled = { onSettled: () => queries.invalidateQueries() };
	const say = useMutation({
		mutationFn: ({ machine, ...said }: RosterEntry) =>
			send<RosterEntry>("PUT", `${FLEET}/machines/${encodeURIComponent(machine)}`, said),
		...settled,
	});
	const arrow = useMutation({
		mutationFn: (edge: Edge) => send<{ edges: Edge[] }>("POST", `${FLEET}/dependencies`, edge),
		...settled,
	});
	const table = useMutation({ mutationFn: takeTable, ...settled });
	return { say, arrow, table };
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
