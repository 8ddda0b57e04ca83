import type { PartResult } from "../api/types";
import { bytes, number } from "../shared/time";
import { ended, type Sending } from "./sending";

/** Of the way from the disk into the database, in percent; a file that is read to its end has not ended yet. */
export function share(sending: Sending): number {
	if (ended(sending)) return 100;
	if (!sending.import) return sending.size ? (50 * sending.sent) / sending.size : 0;
	return 50 + (sending.import.bytes ? Math.min((50 * sending.import.bytes_read) / sending.import.bytes, 49) : 0);
}

/** How far it is, or what came of it. */
export function outcome(sending: Sending): string {
	if (sending.problem) return sending.problem;
	if (!sending.import)
		return sending.sent ? `sending, ${bytes(sending.sent)} of ${bytes(sending.size)}` : "waits to be sent";
	const { state, results } = sending.import;
	if (state === "waiting") return "sent; waits to be read";
	if (state === "reading") return `reading, ${bytes(sending.import.bytes_read)}`;
	const lines = results.reduce((sum, one) => sum + (one.lines ?? 0), 0);
	const known = results.reduce((sum, one) => sum + (one.known_lines ?? 0), 0);
	if (state === "leaving") return "being taken back";
	if (state === "removed") return `taken back: ${number(lines)} lines are gone again`;
	const said = [`${number(lines)} lines read`];
	if (known) said.push(`${number(known)} were here already`);
	if (state === "cancelled") said.push("stopped; what was read stays");
	return said.join(", ");
}

/** What of the times in a file is not its lines' own word. */
export function doubts(results: PartResult[]): string[] {
	const undated = results.reduce((sum, one) => sum + (one.undated ?? 0), 0);
	const events = results.reduce((sum, one) => sum + (one.events ?? 0), 0);
	const orders = [...new Set(results.flatMap((one) => one.date_order ?? []))];
	const said = orders.map((order) => `Dates such as 03/04/2026 were read ${order}.`);
	if (undated && undated === events) said.push("No line has a time: all are dated by the file.");
	else if (undated)
		said.push(`${number(undated)} lines have no time: they are dated by the line before or by the file.`);
	return said;
}

/** Machines that were named after where the lines came from. */
export function placed(results: PartResult[]): string[] {
	return [...new Set(results.flatMap((one) => one.machine ?? []))];
}
