import type { Edge, Machine } from "./api";

export const BOX = { width: 118, height: 40 };
const GAP_X = 14;
const LEAST_GAP_Y = 46;
const MOST_GAP_Y = 84;
const SWEEPS = 6;

export interface Placed {
	machine: Machine;
	x: number;
	y: number;
}

/** Machines that stand on one row, at most so many. */
function rowsOf(machines: Machine[], most: number): Machine[][] {
	const tiers = new Map<number, Machine[]>();
	for (const machine of machines) tiers.set(machine.tier, [...(tiers.get(machine.tier) ?? []), machine]);
	return [...tiers]
		.sort(([one], [other]) => other - one)
		.flatMap(([, own]) => {
			const rows = Math.ceil(own.length / most);
			const size = Math.ceil(own.length / rows);
			return Array.from({ length: rows }, (_, row) => own.slice(row * size, (row + 1) * size));
		});
}

/** What needs nothing stands lowest; within its row, a machine stands near what it is joined to (barycentre heuristic, Sugiyama et al. 1981). */
export function layout(
	machines: Machine[],
	edges: Edge[],
	width: number,
	room: number,
): { placed: Placed[]; height: number } {
	const most = Math.max(1, Math.floor(width / (BOX.width + GAP_X)));
	const rows = rowsOf(machines, most);
	const place = new Map<string, number>();
	const note = (row: Machine[]) =>
		row.forEach((machine, index) => {
			place.set(machine.machine, (index + 0.5) / row.length);
		});
	rows.forEach(note);
	const joined = new Map<string, string[]>();
	for (const { machine, on } of edges) {
		joined.set(machine, [...(joined.get(machine) ?? []), on]);
		joined.set(on, [...(joined.get(on) ?? []), machine]);
	}
	for (let sweep = 0; sweep < SWEEPS; sweep += 1) {
		for (const row of sweep % 2 === 0 ? rows : [...rows].reverse()) {
			const middle = (machine: Machine) => {
				const places = (joined.get(machine.machine) ?? []).flatMap((name) => place.get(name) ?? []);
				return places.length
					? places.reduce((sum, one) => sum + one, 0) / places.length
					: (place.get(machine.machine) ?? 0.5);
			};
			row.sort((one, other) => middle(one) - middle(other) || one.machine.localeCompare(other.machine));
			note(row);
		}
	}
	const gap = Math.min(MOST_GAP_Y, Math.max(LEAST_GAP_Y, (room - 24) / Math.max(rows.length, 1) - BOX.height));
	const placed = rows.flatMap((row, index) => {
		const step = width / row.length;
		return row.map((machine, column) => ({
			machine,
			x: step * (column + 0.5) - BOX.width / 2,
			y: 10 + index * (BOX.height + gap),
		}));
	});
	return { placed, height: 28 + rows.length * (BOX.height + gap) - gap };
}
