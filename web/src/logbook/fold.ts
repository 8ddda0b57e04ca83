import type { Happening } from "../api/types";

/** Happenings that are told as one: the same on the same machine, again and again. */
export interface Folded {
	first: Happening;
	last: Happening;
	count: number;
}

/** Kinds that somebody brings about on purpose: each is told, unless it says the same. */
export const DELIBERATE = [
	"change",
	"package",
	"platform",
	"machine-restart",
	"account",
	"service-stop",
	"service-start",
];

/** As long as it comes again within this, it is the same. */
const GAP_US = 900_000_000;

/** Folds what comes again and again, at the place of its first. */
export function fold(happenings: Happening[]): Folded[] {
	const open = new Map<string, Folded>();
	const all: Folded[] = [];
	for (const one of happenings) {
		const key = `${one.rule} ${one.machine} ${DELIBERATE.includes(one.kind) ? one.says : ""}`;
		const same = open.get(key);
		if (same && one.time_us - same.last.time_us <= GAP_US) {
			same.last = one;
			same.count += 1;
			continue;
		}
		const fresh = { first: one, last: one, count: 1 };
		open.set(key, fresh);
		all.push(fresh);
	}
	return all;
}
