import { Loader } from "@mantine/core";
import { useVirtualizer } from "@tanstack/react-virtual";
import {
	type CSSProperties,
	memo,
	type Ref,
	useEffect,
	useImperativeHandle,
	useLayoutEffect,
	useMemo,
	useRef,
} from "react";
import type { FieldValue, Happening, Line, Silence } from "../api/types";
import type { Folded } from "../logbook/fold";
import { SeverityTicks } from "../shared/severity";
import { clock, clockExact, day, dayAndYear, duration } from "../shared/time";
import { useZone } from "../shared/zone";
import { USUAL, type useWidths } from "./columns";
import { Message } from "./highlight";
import classes from "./Lines.module.css";

type Row =
	| { type: "line"; key: string; line: Line }
	| { type: "silence"; key: string; silence: Silence }
	| { type: "happening"; key: string; told: Folded }
	| { type: "day"; key: string; us: number };

export interface ListHandle {
	focus: () => void;
	show: (id: string) => void;
	end: (which: "first" | "last") => void;
}

interface Props {
	ref: Ref<ListHandle>;
	lines: Line[];
	silences: Silence[];
	/** What the logbook has of the window, in order of time. */
	told: Folded[];
	chosen: string | null;
	match: RegExp | null;
	columns: string[];
	widths: ReturnType<typeof useWidths>;
	wrap: boolean;
	/** Where to enter: the first lines, the last ones, or the middle. */
	entry: "first" | "last" | "middle";
	entryKey: string;
	more: { before: boolean; after: boolean; loading: boolean };
	onMore: (which: "before" | "after") => void;
	onChoose: (id: string) => void;
	/** A happening was clicked. */
	onTold: (one: Happening) => void;
	onVisible: (fromUs: number, toUs: number) => void;
	/** Whether the end stays in view when lines are added. */
	stick: boolean;
	onEnd: (atEnd: boolean) => void;
}

const ROW = 21;
const NEAR = 40;

/** Happenings stand between the lines where they belong; those beyond the lines that are there, only where no more can come. */
function rows(lines: Line[], silences: Silence[], told: Folded[], more: Props["more"], zone: string): Row[] {
	const result: Row[] = [];
	const start = lines[0]?.time_us ?? 0;
	let happenings = told.filter(({ first }) => !more.before || first.time_us >= start);
	const tell = (until: number) => {
		const due = happenings.filter(({ first }) => first.time_us <= until);
		for (const one of due) result.push({ type: "happening", key: `h${one.first.id}`, told: one });
		if (due.length) happenings = happenings.slice(due.length);
	};
	const last = lines.at(-1);
	let pending = lines[0] ? silences.filter((silence) => silence.to_us >= (lines[0]?.time_us ?? 0)) : [];
	let today = "";
	for (const line of lines) {
		const due = pending.filter(
			(silence) => silence.from_us < line.time_us && silence.from_us >= (lines[0]?.time_us ?? 0),
		);
		for (const silence of due) result.push({ type: "silence", key: `s${silence.machine}${silence.from_us}`, silence });
		if (due.length) pending = pending.filter((silence) => !due.includes(silence));
		const date = day(line.time_us, zone);
		if (date !== today && today !== "") result.push({ type: "day", key: `d${date}`, us: line.time_us });
		today = date;
		// The line that tells it comes behind it.
		tell(line.time_us + 999);
		result.push({ type: "line", key: line.id, line });
	}
	if (!more.after) tell(Number.POSITIVE_INFINITY);
	for (const silence of pending)
		if (last && silence.open && silence.from_us >= (lines[0]?.time_us ?? 0))
			result.push({ type: "silence", key: `s${silence.machine}${silence.from_us}`, silence });
	return result;
}

export function columnValue(line: Line, column: string): FieldValue | null {
	if (column === "machine" || column === "host.name") return line.machine;
	if (column === "service" || column === "service.name") return line.service;
	return line.fields[column] ?? null;
}

const LineRow = memo(function LineRow({
	line,
	match,
	columns,
	wrap,
	zone,
}: {
	line: Line;
	match: RegExp | null;
	columns: string[];
	wrap: boolean;
	zone: string;
}) {
	const folded = line.message.split("\n").length - 1;
	return (
		<>
			<SeverityTicks code={line.severity} />
			<span className={classes.time}>{clockExact(line.time_us, zone)}</span>
			<span className={classes.machine}>
				{line.machine && <Message text={line.machine} match={match} tint={false} />}
			</span>
			<span className={classes.service}>
				{line.service && <Message text={line.service} match={match} tint={false} />}
			</span>
			{columns.map((column) => (
				<span key={column} className={classes.cell}>
					{String(columnValue(line, column) ?? "")}
				</span>
			))}
			<span className={classes.message}>
				<Message
					text={wrap ? line.message.trimEnd() : line.message.trimEnd().split("\n", 1)[0] || "(empty)"}
					match={match}
				/>
				{!wrap && folded > 0 && (
					<span className={classes.fold}>
						{" "}
						+{folded} {folded === 1 ? "line" : "lines"}
					</span>
				)}
			</span>
		</>
	);
});

function HappeningRow({ told: { first, count }, zone }: { told: Folded; zone: string }) {
	return (
		<span className={classes.happening}>
			<SeverityTicks code={first.severity} /> <b>{first.machine}</b> {first.says}
			{count > 1 && `, and ${count - 1} more`} <time>{clock(first.time_us, zone)}</time>
		</span>
	);
}

function SilenceRow({ silence }: { silence: Silence }) {
	const text = silence.open
		? `${silence.machine} silent since then, ${duration(silence.to_us - silence.from_us)}`
		: `${duration(silence.to_us - silence.from_us)} of silence from ${silence.machine}`;
	return <span className={classes.silence}>{text}</span>;
}

/** The lines, oldest at the top. Only what is on screen is in the document, however many there are. */
export function LineList({
	ref,
	lines,
	silences,
	told,
	chosen,
	match,
	columns,
	widths,
	wrap,
	entry,
	entryKey,
	more,
	onMore,
	onChoose,
	onTold,
	onVisible,
	stick,
	onEnd,
}: Props) {
	const { zone } = useZone();
	const scroller = useRef<HTMLDivElement>(null);
	const all = useMemo(() => rows(lines, silences, told, more, zone), [lines, silences, told, more, zone]);
	const virtual = useVirtualizer({
		count: all.length,
		getScrollElement: () => scroller.current,
		estimateSize: () => ROW,
		getItemKey: (index) => all[index]?.key ?? index,
		overscan: 15,
	});
	const items = virtual.getVirtualItems();
	const first = items.find((item) => item.end > (virtual.scrollOffset ?? 0));

	// Pages that come or go above must not move what a person is reading.
	const held = useRef<{ key: string; index: number; delta: number } | null>(null);
	const entered = useRef("");
	useLayoutEffect(() => {
		if (!all.length) return;
		if (entered.current !== entryKey) {
			entered.current = entryKey;
			if (entry === "last") virtual.scrollToIndex(all.length - 1, { align: "end" });
			else if (entry === "middle") {
				const index = all.findIndex((row) => row.type === "line" && row.line.id === chosen);
				virtual.scrollToIndex(index === -1 ? Math.floor(all.length / 2) : index, { align: "center" });
			} else virtual.scrollToOffset(0);
			return;
		}
		const before = held.current;
		if (!before) return;
		const index = all.findIndex((row) => row.key === before.key);
		const start = virtual.measurementsCache[index]?.start;
		if (index !== before.index && start !== undefined) virtual.scrollToOffset(start + before.delta);
	}, [all, entry, entryKey, chosen, virtual]);
	const firstKey = first ? String(first.key) : null;
	const firstIndexSeen = first?.index ?? 0;
	const firstDelta = first ? (virtual.scrollOffset ?? 0) - first.start : 0;
	useEffect(() => {
		held.current = firstKey ? { key: firstKey, index: firstIndexSeen, delta: firstDelta } : null;
	}, [firstKey, firstIndexSeen, firstDelta]);

	const lastIndex = items.at(-1)?.index ?? 0;
	const firstIndex = items[0]?.index ?? 0;
	useEffect(() => {
		if (!all.length || more.loading) return;
		if (more.before && firstIndex < NEAR) onMore("before");
		else if (more.after && lastIndex > all.length - NEAR) onMore("after");
	}, [all.length, firstIndex, lastIndex, more, onMore]);

	const seen = items.flatMap((item) => {
		const row = all[item.index];
		const height = scroller.current?.clientHeight ?? 0;
		const on = item.end > (virtual.scrollOffset ?? 0) && item.start < (virtual.scrollOffset ?? 0) + height;
		return row?.type === "line" && on ? [row.line.time_us] : [];
	});
	const [from, to] = [seen[0], seen.at(-1)];
	useEffect(() => {
		if (from !== undefined && to !== undefined) onVisible(from, to);
	}, [from, to, onVisible]);

	// While following, the end stays in view as long as a person does not scroll up.
	const bottom = virtual.getTotalSize() - (scroller.current?.clientHeight ?? 0) - (virtual.scrollOffset ?? 0);
	const atEnd = bottom < ROW * 2;
	useEffect(() => onEnd(atEnd), [atEnd, onEnd]);
	const lastKey = all.at(-1)?.key;
	useLayoutEffect(() => {
		if (stick && lastKey) virtual.scrollToIndex(all.length - 1, { align: "end" });
	}, [stick, lastKey, all.length, virtual]);

	useImperativeHandle(ref, () => ({
		focus: () => scroller.current?.focus({ preventScroll: true }),
		show: (id) => {
			const index = all.findIndex((row) => row.type === "line" && row.line.id === id);
			if (index !== -1) virtual.scrollToIndex(index, { align: "auto" });
		},
		end: (which) => virtual.scrollToIndex(which === "first" ? 0 : all.length - 1),
	}));

	const grid = {
		"--columns": `18px ${[...USUAL, ...columns].map((column) => `${widths.width(column)}px`).join(" ")} minmax(0, 1fr)`,
	} as CSSProperties;
	const firstLine = lines[0];

	return (
		<div className={classes.list} style={grid}>
			<div className={classes.header}>
				<span />
				{[...USUAL, ...columns].map((column) => (
					<span key={column} className={classes.heading}>
						{column === "time" && firstLine ? dayAndYear(firstLine.time_us, zone) : column}
						<button
							type="button"
							className={classes.grip}
							aria-label={`width of ${column}`}
							onPointerDown={(event) => {
								event.currentTarget.setPointerCapture(event.pointerId);
								const start = event.clientX;
								const width = widths.width(column);
								event.currentTarget.onpointermove = (move) => widths.resize(column, width + move.clientX - start);
							}}
							onPointerUp={(event) => {
								event.currentTarget.onpointermove = null;
							}}
							onKeyDown={(event) => {
								const by = { ArrowLeft: -10, ArrowRight: 10 }[event.key];
								if (by) widths.resize(column, widths.width(column) + by);
							}}
						/>
					</span>
				))}
				<span className={classes.heading}>message</span>
			</div>
			<div
				ref={scroller}
				className={classes.scroller}
				role="listbox"
				aria-label="Lines"
				tabIndex={0}
				data-wrap={wrap || undefined}
				data-lines
			>
				<div style={{ height: virtual.getTotalSize(), position: "relative" }}>
					{items.map((item) => {
						const row = all[item.index];
						if (!row) return null;
						const place = { transform: `translateY(${item.start}px)` };
						if (row.type === "happening")
							return (
								<button
									type="button"
									key={item.key}
									ref={virtual.measureElement}
									data-index={item.index}
									role="option"
									aria-selected={false}
									data-told={row.told.first.kind}
									data-bad={row.told.first.severity <= 3 || undefined}
									className={classes.told}
									style={place}
									onClick={() => onTold(row.told.first)}
								>
									<HappeningRow told={row.told} zone={zone} />
								</button>
							);
						if (row.type !== "line")
							return (
								<div
									key={item.key}
									ref={virtual.measureElement}
									data-index={item.index}
									className={classes.between}
									style={place}
								>
									{row.type === "silence" ? (
										<SilenceRow silence={row.silence} />
									) : (
										<span className={classes.day}>{dayAndYear(row.us, zone)}</span>
									)}
								</div>
							);
						const on = row.line.id === chosen;
						return (
							// biome-ignore lint/a11y/useKeyWithClickEvents: keys are handled for the whole screen
							<div
								key={item.key}
								ref={virtual.measureElement}
								data-index={item.index}
								data-line={row.line.id}
								role="option"
								aria-selected={on}
								tabIndex={-1}
								className={classes.row}
								style={place}
								onClick={() => onChoose(row.line.id)}
							>
								<LineRow line={row.line} match={match} columns={columns} wrap={wrap} zone={zone} />
							</div>
						);
					})}
				</div>
			</div>
			{more.loading && <Loader className={classes.loading} size="xs" />}
		</div>
	);
}
