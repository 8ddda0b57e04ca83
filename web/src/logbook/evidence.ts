import { toIso } from "../shared/time";
import type { Happening } from "./api";

const AROUND_US = 120_000_000;

/** Address of the lines around what tells a happening, or a row of them. */
export function evidence(one: Pick<Happening, "id" | "time_us" | "machine">, last = one): string {
	const params = new URLSearchParams({
		from: toIso(one.time_us - AROUND_US),
		to: toIso(last.time_us + AROUND_US),
		line: one.id,
	});
	if (one.machine) params.set("chip", `host.name = "${one.machine}"`);
	return `/?${params}`;
}
