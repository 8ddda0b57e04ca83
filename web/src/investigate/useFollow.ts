import { type InfiniteData, useIsFetching, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import type { Line, Page } from "../api/types";
import type { TurnedAway } from "../rules/api";
import { listen } from "../shared/events";
import { asked, type Question } from "../shared/question";
import type { LinesKey } from "./lines";

interface News {
	lines: Line[];
	/** Lines that came as well, and were too many to be shown as they came. */
	skipped: number;
}

export interface Away {
	count: number;
	latest: TurnedAway[];
}

/** Lines that noise rules turned away, kept to be looked at. */
const AWAY_KEPT = 50;
/** Lines kept on screen while they stream by; earlier ones come back when the following ends. */
const KEPT = 1000;
/** What was thinned is said for so long: lines come several times a second, and nobody reads as fast. */
const THINNED_MS = 4000;
/** Counts over time are asked again so often at most. */
const RECOUNT_MS = 2000;

/**
 * New lines of a question as they come in. While a person looks at the end they are added there; when they have scrolled up
 * nothing moves, and the lines are counted instead.
 */
export function useFollow(question: Question, linesKey: LinesKey, on: boolean, atEnd: boolean) {
	const queries = useQueryClient();
	const [ready, setReady] = useState(false);
	const [waiting, setWaiting] = useState(0);
	const [skipped, setSkipped] = useState(0);
	const [away, setAway] = useState<Away>({ count: 0, latest: [] });
	const key = asked({ ...question, toUs: null }).toString();
	const list = useRef(linesKey);
	list.current = linesKey;
	const end = useRef(atEnd);
	end.current = atEnd;
	// What comes while the list itself is fetched waits for it: an answer that was made before would take its place.
	const held = useRef<Line[]>([]);
	const fetching = useIsFetching({ queryKey: linesKey, exact: true }) > 0;

	const add = useCallback(() => {
		if (queries.isFetching({ queryKey: list.current, exact: true })) return;
		const came = held.current.splice(0);
		if (came.length === 0) return;
		queries.setQueryData<InfiniteData<Page>>(list.current, (data) => {
			const last = data?.pages.at(-1);
			if (!data || !last) return data;
			const known = new Set(last.lines.map((line) => line.id));
			const fresh = came.filter((line) => !known.has(line.id));
			const all = [...last.lines, ...fresh].sort((one, other) => one.true_us - other.true_us);
			const shown = all.slice(-KEPT);
			const more = data.pages.length > 1 || last.more_before || shown.length < all.length;
			return {
				pages: [{ ...last, lines: shown, more_before: more, more_after: false }],
				pageParams: [list.current[2]],
			};
		});
	}, [queries]);

	useEffect(() => {
		if (!fetching) add();
	}, [fetching, add]);

	useEffect(() => {
		if (skipped === 0) return;
		const said = window.setTimeout(() => setSkipped(0), THINNED_MS);
		return () => window.clearTimeout(said);
	}, [skipped]);

	useEffect(() => {
		if (!on) {
			setWaiting(0);
			setSkipped(0);
			setAway({ count: 0, latest: [] });
			held.current = [];
			return;
		}
		let recount: number | undefined;
		const count = () => {
			window.clearTimeout(recount);
			recount = undefined;
			for (const name of ["histogram", "status"]) void queries.invalidateQueries({ queryKey: [name] });
		};
		const told = {
			// What came between the list's own answer and this moment is told by neither.
			ready: () => {
				setReady(true);
				if (end.current) void queries.invalidateQueries({ queryKey: list.current, exact: true });
			},
			lines: (news: News) => {
				if (end.current) {
					held.current = [...held.current, ...news.lines].slice(-KEPT);
					add();
					setSkipped((before) => before + news.skipped);
				} else setWaiting((before) => before + news.lines.length + news.skipped);
				recount ??= window.setTimeout(count, RECOUNT_MS);
			},
			"turned-away": ({ lines }: { lines: TurnedAway[] }) =>
				setAway((before) => ({
					count: before.count + lines.length,
					latest: [...before.latest, ...lines].slice(-AWAY_KEPT),
				})),
		};
		const leave = listen(key, (name, data) => told[name as keyof typeof told]?.(data as never));
		return () => {
			leave();
			setReady(false);
			// What was still to be counted is counted when the following ends.
			if (recount !== undefined) count();
		};
	}, [on, key, add, queries]);

	const caughtUp = useCallback(() => setWaiting(0), []);
	return { ready, waiting, skipped, away, caughtUp };
}
