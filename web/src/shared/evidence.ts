import type { Happening } from "../api/types";
import { equals } from "./question";
import { toIso } from "./time";

const AROUND_US = 120_000_000;

/** Address of the lines around what tells a happening, or a row of them. */
export function evidence(
	one: Pick<Happening, "id" | "time_us" | "machine"> & Partial<Pick<Happening, "line" | "until_us">>,
	last = one,
): string {
	const params = new URLSearchParams({
		from: toIso(one.time_us - AROUND_US),
		to: toIso((one.until_us ?? last.time_us) + AROUND_US),
	});
	if (one.line !== false) params.set("line", one.id);
	if (one.machine) params.set("chip", equals("host.name", one.machine));
	return `/?${params}`;
}

/** Address of what changed before it. */
export function changesBefore(one: Pick<Happening, "id" | "time_us" | "machine"> & { line?: boolean }): string {
	if (one.line !== false) return `/causes?${new URLSearchParams({ line: one.id })}`;
	const params = new URLSearchParams({ at: String(one.time_us) });
	if (one.machine) params.set("machine", one.machine);
	return `/causes?${params}`;
}
