import { useInfiniteQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { answer, api, asking } from "../api/client";
import type { Line } from "../api/types";
import { asked, type Question } from "../shared/question";

/** Where the list is entered: an end of the window, a moment, or a line. */
export type Anchor = { end: "first" | "last" } | { at: number } | { around: string };

type Cursor = Anchor | { before: string } | { after: string };

const LIMIT = 200;
/** Pages kept; those far from what is on screen are let go, and come again when needed. */
const PAGES = 12;

function cursorParams(cursor: Cursor, params: URLSearchParams): URLSearchParams {
	if ("end" in cursor) params.set("end", cursor.end);
	else if ("at" in cursor) params.set("at", String(cursor.at));
	else if ("around" in cursor) params.set("around", cursor.around);
	else if ("before" in cursor) params.set("before", cursor.before);
	else params.set("after", cursor.after);
	params.set("limit", String(LIMIT));
	return params;
}

/** The line that a page ends with. Ids pass 2^53. */
function extreme(lines: Line[], which: "min" | "max", inTrueOrder: boolean): string {
	if (inTrueOrder) return (which === "min" ? lines[0] : lines.at(-1))?.id ?? "";
	return lines
		.map((line) => line.id)
		.reduce((one, other) => ((which === "min") === BigInt(one) < BigInt(other) ? one : other));
}

export type LinesKey = [name: "lines", asked: string, anchor: Anchor];

function withShifts(question: Question, shifts: string[]): URLSearchParams {
	const found = asked(question);
	for (const shift of shifts) found.append("shift[]", shift);
	return found;
}

export function linesKey(question: Question, anchor: Anchor, shifts: string[]): LinesKey {
	return ["lines", withShifts(question, shifts).toString(), anchor];
}

/** The lines of a question around an anchor, by pages in both directions. */
export function useLines(question: Question, anchor: Anchor, shifts: string[], enabled: boolean) {
	const query = useInfiniteQuery({
		queryKey: linesKey(question, anchor, shifts),
		enabled,
		initialPageParam: anchor as Cursor,
		queryFn: ({ pageParam, signal }) =>
			answer(api.GET("/api/lines", { ...asking(cursorParams(pageParam, withShifts(question, shifts))), signal })),
		getNextPageParam: (page): Cursor | undefined =>
			page.more_after && page.lines.length ? { after: extreme(page.lines, "max", shifts.length > 0) } : undefined,
		getPreviousPageParam: (page): Cursor | undefined =>
			page.more_before && page.lines.length ? { before: extreme(page.lines, "min", shifts.length > 0) } : undefined,
		maxPages: PAGES,
	});
	const lines = useMemo(
		() => query.data?.pages.flatMap((page) => page.lines.map((line) => ({ ...line, time_us: line.true_us }))) ?? [],
		[query.data],
	);
	const highlights = query.data?.pages[0]?.highlights ?? [];
	return { ...query, lines, highlights };
}
