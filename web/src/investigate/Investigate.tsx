import { Menu, Switch } from "@mantine/core";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type ComponentType, lazy, Suspense, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { answer, api, asking, Problem } from "../api/client";
import type { Happening, Silence, Status } from "../api/types";
import { useCurrentCase } from "../cases/current";
import { FieldList } from "../fields/FieldList";
import { useLogbook } from "../logbook/api";
import { type Folded, fold } from "../logbook/fold";
import { PatternList } from "../patterns/PatternList";
import { useKeys } from "../shared/keys";
import {
	asked,
	equals,
	type Question,
	useQuestion,
	VIEWS,
	type View,
	type ViewProps,
	windowOf,
	withChip,
	write,
} from "../shared/question";
import { useZone } from "../shared/zone";
import { shifts, useClocks, wrong } from "../surveys/clocks";
import { Thread } from "../thread/Thread";
import { TrueTimeSwitch } from "../thread/TrueTimeSwitch";
import { WordList } from "../words/WordList";
import { ColumnMenu } from "./ColumnMenu";
import { useWidths } from "./columns";
import { EmptyState, NothingFound } from "./EmptyState";
import { ExportMenu } from "./ExportMenu";
import { Follow } from "./Follow";
import { Foot } from "./Foot";
import { matcher } from "./highlight";
import { countOf, shownTotal, useHistogram } from "./histogram";
import { Inspector } from "./Inspector";
import classes from "./Investigate.module.css";
import { KeysHelp } from "./KeysHelp";
import { LineList, type ListHandle } from "./LineList";
import { type Anchor, linesKey, useLines } from "./lines";
import { MakeMenu } from "./MakeMenu";
import { Rail } from "./Rail";
import { Sentence } from "./Sentence";
import { useFollow } from "./useFollow";

const NAMES: Record<View, string> = {
	lines: "Lines",
	patterns: "Patterns",
	fields: "Fields",
	words: "Words",
	measure: "Measure",
};
/** Views that are drawn from a survey of all lines. */
const SURVEYS: Partial<Record<View, ComponentType<ViewProps>>> = {
	patterns: PatternList,
	fields: FieldList,
	words: WordList,
};
// Charts are fetched when they are first wanted.
const MeasureView = lazy(() => import("../measure/MeasureView").then((found) => ({ default: found.MeasureView })));
const BAD = "severity >= error";
const NONE: Silence[] = [];

interface Props {
	status: Status | undefined;
	problem: Error | null;
}

/**
 * Where a page begins that was opened without a question: where the data folder says, else where there is most to look
 * at.
 */
function useLanding(status: Status | undefined) {
	const navigate = useNavigate();
	const [opened, setOpened] = useState(() => window.location.search === "");
	const there = status !== undefined && status.lines > 0;
	const { data: main, error } = useQuery({
		queryKey: ["main window"],
		queryFn: ({ signal }) => answer(api.GET("/api/windows/main", { signal })),
		enabled: opened && there && !status.landing,
	});
	const landing = status?.landing ?? (main && write(windowOf(main.from_us, main.to_us)).toString());
	useEffect(() => {
		if (!opened || (there && landing === undefined && !error) || !status) return;
		setOpened(false);
		if (landing) navigate(`/?${landing}`, { replace: true });
	}, [opened, there, landing, error, status, navigate]);
	return status !== undefined && !opened;
}

function useSilences(question: Question, enabled: boolean) {
	const params = asked({ ...question, hidden: [], noiseShown: true });
	return useQuery({
		queryKey: ["silences", params.toString()],
		queryFn: ({ signal }) => answer(api.GET("/api/silences", { ...asking(params), signal })),
		enabled,
	});
}

/** What the logbook has of the window, of the machines that the question's lines may be of; what is routine is left out. */
function useTold(question: Question): Folded[] {
	const params = asked({ ...question, hidden: [], noiseShown: true });
	params.set("least", "notice");
	params.set("limit", "600");
	const { data } = useLogbook(params);
	return useMemo(() => fold(data?.happenings ?? []), [data]);
}

export function Investigate({ status, problem }: Props) {
	const ready = useLanding(status);
	// What was known before a request failed stays on the page.
	if (problem && !status) return <main className={classes.message}>{problem.message}</main>;
	if (!status || !ready) return <main className={classes.message} aria-busy />;
	if (status.lines === 0) return <EmptyState />;
	return <Workbench status={status} problem={problem} />;
}

function Workbench({ status, problem }: { status: Status; problem: Error | null }) {
	const { zone } = useZone();
	const queries = useQueryClient();
	const [question, change] = useQuestion();
	const [help, setHelp] = useState(false);
	const [visible, setVisible] = useState<[number, number] | null>(null);
	const [cursor, setCursor] = useState<string | null>(question.line);
	const [follow, setFollow] = useState(false);
	const [atEnd, setAtEnd] = useState(true);
	const [measureMistake, setMeasureMistake] = useState<Problem | null>(null);
	const widths = useWidths();
	const cases = useCurrentCase();
	const list = useRef<ListHandle>(null);

	const key = asked(question).toString();
	const [entry, setEntry] = useState<{ key: string; anchor: Anchor }>({
		key,
		anchor: question.line ? { around: question.line } : { end: "first" },
	});
	// A new question is entered at its start, or at the line that is open.
	const anchor: Anchor = useMemo(
		() => (entry.key === key ? entry.anchor : cursor ? { around: cursor } : { end: "first" }),
		[entry, key, cursor],
	);
	const pinned = useRef({ key: "", anchor });
	if (pinned.current.key !== key || entry.key === key) pinned.current = { key, anchor };
	const go = useCallback((to: Anchor) => setEntry({ key, anchor: to }), [key]);

	const clocks = useClocks(question, question.trueTime);
	const shifted = question.trueTime ? shifts(wrong(clocks.answer?.clocks)) : [];
	const lines = useLines(question, pinned.current.anchor, shifted, true);
	const histogram = useHistogram(question, zone);
	const silences = useSilences(question, true);
	const told = useTold(question);
	const match = useMemo(() => matcher(lines.highlights), [lines.highlights]);
	const mistake = lines.error instanceof Problem && lines.error.details.column ? lines.error.details : null;
	// What was counted for the question before is not this one's: its drawing stays, paler, until this one is counted.
	const count = countOf(histogram);
	const counted = count === "done" && !mistake ? histogram.data : undefined;

	useEffect(() => {
		if (question.line) setCursor(question.line);
	}, [question.line]);

	const choose = useCallback(
		(id: string, open = true) => {
			setCursor(id);
			if (open) change({ line: id }, { replace: true });
		},
		[change],
	);

	const move = (by: 1 | -1) => {
		const all = lines.lines;
		const from = all.findIndex((line) => line.id === cursor);
		const start =
			from === -1 ? all.findIndex((line) => line.time_us >= (visible?.[0] ?? 0)) - (by === 1 ? 1 : 0) : from;
		const next = all[start + by];
		if (!next) return;
		choose(next.id, question.line !== null);
		list.current?.show(next.id);
	};

	// Every line of the list matches the words; without any, the next match is the next error.
	const nextMatch = async (by: 1 | -1) => {
		if (match) return move(by);
		const params = asked({ ...question, chips: [...question.chips, BAD] });
		params.set("limit", "1");
		const from = cursor ?? lines.lines[0]?.id;
		if (from) params.set(by === 1 ? "after" : "before", from);
		const found = (await answer(api.GET("/api/lines", asking(params)))).lines[0];
		if (!found) return;
		choose(found.id, question.line !== null);
		if (lines.lines.some((line) => line.id === found.id)) list.current?.show(found.id);
		else go({ around: found.id });
	};

	const from = question.fromUs ?? status.first_us;
	const to = question.toUs ?? status.last_us;
	const shift = (by: number) => change({ fromUs: from + by * (to - from), toUs: to + by * (to - from) });
	const zoom = (factor: number) => {
		const chosen = lines.lines.find((line) => line.id === cursor)?.time_us;
		const middle = chosen ?? (visible ? (visible[0] + visible[1]) / 2 : (from + to) / 2);
		const half = Math.max(((to - from) * factor) / 2, 500_000);
		change({ fromUs: Math.round(middle - half), toUs: Math.round(middle + half) });
	};
	const focusFind = () => document.querySelector<HTMLElement>("[data-find]")?.focus();

	useKeys({
		"/": focusFind,
		j: () => move(1),
		k: () => move(-1),
		ArrowDown: () => move(1),
		ArrowUp: () => move(-1),
		n: () => void nextMatch(1),
		N: () => void nextMatch(-1),
		g: () => {
			setCursor(null);
			go({ end: "first" });
			list.current?.end("first");
		},
		G: () => {
			setCursor(null);
			go({ end: "last" });
			list.current?.end("last");
		},
		F: () => switchFollow(),
		m: () =>
			change({
				view: VIEWS[(VIEWS.indexOf(question.view) + 1) % VIEWS.length] ?? "lines",
			}),
		"[": () => shift(-1),
		"]": () => shift(1),
		"+": () => zoom(0.5),
		"-": () => zoom(2),
		Enter: () => cursor && choose(cursor),
		p: () => {
			const line = lines.lines.find((one) => one.id === cursor);
			if (line) cases.pin({ kind: "line", id: line.id }, line.message.split("\n", 1)[0]?.slice(0, 80) ?? "");
		},
		c: () => cursor && change({ line: cursor, thread: "changed" }, { replace: true }),
		t: () => cursor && change({ line: cursor, thread: "nearby" }, { replace: true }),
		Escape: () => (question.line ? change({ line: null }, { replace: true }) : setCursor(null)),
		"?": () => setHelp(true),
	});

	const follower = useFollow(question, linesKey(question, pinned.current.anchor, shifted), follow, atEnd);
	const toEnd = () => {
		follower.caughtUp();
		void queries.invalidateQueries({ queryKey: ["lines"] });
		go({ end: "last" });
		list.current?.end("last");
	};
	const switchFollow = () => {
		if (!follow) {
			// What is to come lies behind any end of a window.
			if (question.toUs !== null) change({ toUs: null });
			setCursor(null);
			setEntry({ key: asked({ ...question, toUs: null }).toString(), anchor: { end: "last" } });
		}
		setFollow(!follow);
	};

	const onMore = useCallback(
		(which: "before" | "after") => void (which === "before" ? lines.fetchPreviousPage() : lines.fetchNextPage()),
		[lines.fetchPreviousPage, lines.fetchNextPage],
	);
	const onVisible = useCallback((first: number, last: number) => setVisible([first, last]), []);
	const onTold = (one: Happening) => {
		if (one.line) change({ line: one.id, view: "lines" }, { replace: true });
		go(one.line && lines.lines.some((line) => line.id === one.id) ? { around: one.id } : { at: one.time_us });
	};
	const addChip = (chip: string) => change({ chips: withChip(question.chips, chip) });
	const current = pinned.current.anchor;
	const Survey = SURVEYS[question.view];

	return (
		<>
			<main className={classes.screen} data-inspecting={question.line ? "" : undefined}>
				<Sentence
					question={question}
					change={change}
					mistake={mistake}
					measureMistake={measureMistake?.details ?? null}
					status={status}
					onAsked={() => list.current?.focus()}
				/>
				<Rail
					histogram={mistake || count === "stopped" ? undefined : histogram.data}
					count={mistake || histogram.error ? "done" : count}
					lanes={question.lanes}
					hidden={question.hidden}
					visible={visible}
					onLanes={(lanes) => change({ lanes })}
					onHidden={(hidden) => change({ hidden })}
					onZoom={(fromUs, toUs) => change({ fromUs, toUs })}
					onJump={(at) => go({ at })}
					onLane={(lanes, name) => addChip(equals(lanes === "machine" ? "host.name" : "service.name", name))}
					onCancel={() => void queries.cancelQueries({ queryKey: ["histogram"] })}
					onCount={() => void histogram.refetch()}
					told={told}
					onTold={onTold}
					whole={question.whole}
					onWhole={(whole) => change({ whole }, { replace: true })}
				/>
				<section className={classes.middle} aria-label="Lines">
					<div className={classes.views}>
						{VIEWS.map((view) => (
							<button
								key={view}
								type="button"
								className={classes.view}
								aria-current={question.view === view ? "page" : undefined}
								onClick={() => change({ view })}
							>
								{NAMES[view]}{" "}
								{view === "lines" && (
									<span className={classes.count}>
										{counted && shownTotal(counted, question.hidden).toLocaleString("en-GB")}
									</span>
								)}
							</button>
						))}
						<div className={classes.tools} hidden={question.view !== "lines"}>
							<Follow on={follow} {...follower} onSwitch={switchFollow} onEnd={toEnd} />
							<TrueTimeSwitch question={question} short />
							<Menu position="bottom-end">
								<Menu.Target>
									<button type="button" className={classes.tool}>
										{question.wrap ? "wrapped" : "one line"} ▾
									</button>
								</Menu.Target>
								<Menu.Dropdown p="xs">
									<Switch
										label="wrap long lines"
										checked={question.wrap}
										onChange={(event) => change({ wrap: event.currentTarget.checked }, { replace: true })}
									/>
								</Menu.Dropdown>
							</Menu>
							<MakeMenu question={question} />
							<ExportMenu question={question} />
							<ColumnMenu columns={question.columns} onColumns={(columns) => change({ columns }, { replace: true })} />
						</div>
					</div>
					{lines.error && !mistake && <p className={classes.message}>{lines.error.message}</p>}
					{Survey && !mistake && <Survey question={question} change={change} onChip={addChip} />}
					{question.view === "measure" && !mistake && (
						<Suspense fallback={<p className={classes.message}>Fetching charts</p>}>
							<MeasureView
								question={question}
								change={change}
								onChip={addChip}
								status={status}
								onMistake={setMeasureMistake}
							/>
						</Suspense>
					)}
					{lines.isSuccess && question.view === "lines" && lines.lines.length === 0 && (
						<NothingFound question={question} change={change} />
					)}
					{lines.lines.length > 0 && question.view === "lines" && (
						<LineList
							ref={list}
							lines={lines.lines}
							silences={silences.data?.silences ?? NONE}
							chosen={cursor}
							match={match}
							columns={question.columns}
							widths={widths}
							wrap={question.wrap}
							entry={"end" in current ? current.end : "middle"}
							entryKey={key + JSON.stringify(current)}
							more={{
								before: lines.hasPreviousPage,
								after: lines.hasNextPage,
								loading: lines.isFetchingNextPage || lines.isFetchingPreviousPage,
							}}
							onMore={onMore}
							onChoose={choose}
							told={told}
							onTold={onTold}
							onVisible={onVisible}
							stick={follow && atEnd}
							onEnd={setAtEnd}
						/>
					)}
				</section>
				{question.line && (
					<Inspector
						id={question.line}
						match={match}
						columns={question.columns}
						onChip={addChip}
						onColumn={(field) =>
							change(
								{
									columns: question.columns.includes(field)
										? question.columns.filter((other) => other !== field)
										: [...question.columns, field],
								},
								{ replace: true },
							)
						}
						onAround={(fromUs, toUs, chips) => change({ find: "", chips, fromUs, toUs, hidden: [] })}
						onThread={(thread) => change({ thread }, { replace: true })}
						onStep={(by) => move(by)}
						onClose={() => change({ line: null }, { replace: true })}
					/>
				)}
				<Foot
					noiseShown={question.noiseShown}
					onNoise={(noiseShown) => change({ noiseShown })}
					status={status}
					histogram={counted}
					problem={problem}
					hidden={question.hidden}
					silences={silences.data?.silences ?? []}
					onHelp={() => setHelp(true)}
				/>
			</main>
			{question.line && question.thread && <Thread id={question.line} question={question} change={change} />}
			<KeysHelp open={help} onClose={() => setHelp(false)} />
		</>
	);
}
