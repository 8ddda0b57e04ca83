import type { Import } from "../api/types";

/** One file on its way: first to the server, then into the database. */
export interface Sending {
	key: number;
	name: string;
	size: number;
	sent: number;
	import: Import | null;
	problem: string | null;
}

const ENDED = ["done", "cancelled", "failed", "removed"];
/** States whose lines can be taken back. */
const KEPT = ["done", "cancelled", "failed"];

export function ended(sending: Sending): boolean {
	return sending.problem !== null || ENDED.includes(sending.import?.state ?? "");
}

/** Whether it has lines in the database that can be taken out again. */
export function kept(sending: Sending): boolean {
	return (
		KEPT.includes(sending.import?.state ?? "") && (sending.import?.results ?? []).some((one) => (one.lines ?? 0) > 0)
	);
}
