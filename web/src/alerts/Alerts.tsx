import { Button, Checkbox, SegmentedControl, Select, TextInput } from "@mantine/core";
import { useDebouncedCallback } from "@mantine/hooks";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { PutOnBoard } from "../cards/PutOnBoard";
import { KeyHints } from "../shared/KeyHints";
import { useKeys } from "../shared/keys";
import { SeverityTicks } from "../shared/severity";
import { clock, day, number } from "../shared/time";
import { useZone } from "../shared/zone";
import { AlertPanel } from "./AlertPanel";
import classes from "./Alerts.module.css";
import { AlertsHead } from "./AlertsHead";
import { type Alert, lasted, type Shown, useAlerts } from "./api";
import { Many } from "./Many";
import { NoticeSwitch } from "./NoticeSwitch";
import { useCalm } from "./useCalm";

const SHOWN: Record<string, { label: string } & Shown> = {
	standing: { label: "open and taken", states: ["open", "taken"], quiet: "no" },
	quiet: { label: "quiet", states: ["open", "taken"], quiet: "only" },
	closed: { label: "closed", states: ["closed"] },
	all: { label: "all", states: [] },
};
const ALL_STATES = "open,taken,closed";
const NONE: Record<string, string> = {
	standing:
		"Nothing is wrong that a rule watches for. Make a rule from any question in Investigate: Make → Alert rule.",
	quiet: "No alert is muted, and none stands that was planned.",
};

const DAYS = [
	{ value: "", label: "of all time" },
	{ value: "1", label: "of the last day" },
	{ value: "7", label: "of the last week" },
	{ value: "30", label: "of the last 30 days" },
];
const ORDERS = [
	{ value: "raised", label: "by when raised" },
	{ value: "taken", label: "by when taken" },
	{ value: "closed", label: "by when closed" },
] as const;

/** A find text is asked when nobody types any more. */
const SETTLE_MS = 300;

const KEYS = [
	["j", "next"],
	["k", "previous"],
	["t", "take"],
	["c", "close"],
	["u", "undo"],
	["x", "choose"],
	["m", "mute"],
	["Enter", "its lines"],
];

interface RowProps {
	alert: Alert;
	chosen: boolean;
	onChoose: () => void;
	/** Whether it is among those that something is done with, and a change of that. */
	marked?: boolean;
	onMark?: () => void;
	/** Shows what is folded under it, or no more. */
	onUnfold?: () => void;
	unfolded?: boolean;
}

function Row({ alert, chosen, onChoose, marked, onMark, onUnfold, unfolded }: RowProps) {
	const { zone } = useZone();
	return (
		<tr
			data-alert={alert.name}
			data-state={alert.state}
			data-folded={alert.root_id ? true : undefined}
			aria-selected={chosen}
			className={classes.alert}
			onClick={onChoose}
		>
			<td>
				{onMark && (
					<Checkbox
						size="xs"
						aria-label={`choose ${alert.name}`}
						checked={marked ?? false}
						onClick={(event) => event.stopPropagation()}
						onChange={onMark}
					/>
				)}
			</td>
			<td>
				<SeverityTicks code={alert.worst} />
			</td>
			<td className={classes.state} data-state={alert.state}>
				{alert.reopened && alert.state === "open" ? "reopened" : alert.state}
			</td>
			<td>
				<button type="button" className={classes.name}>
					{alert.name}
				</button>
				<span className={classes.second}>
					{alert.key.map(({ value }) => value).join(" · ")}
					{alert.state === "closed" && alert.remedy && ` · ${alert.remedy}`}
					{alert.quiet && ` · ${alert.quiet.kind === "mute" ? "muted" : "planned"}: ${alert.quiet.why}`}
				</span>
				{alert.folded > 0 && onUnfold && (
					<button
						type="button"
						className={classes.unfold}
						aria-expanded={unfolded}
						onClick={(event) => {
							event.stopPropagation();
							onUnfold();
						}}
					>
						{unfolded ? "▾" : "▸"} {number(alert.folded)} more because of {alert.machine}
					</button>
				)}
			</td>
			<td className={classes.time}>
				{day(alert.raised_us, zone)} {clock(alert.raised_us, zone)}
			</td>
			<td className={classes.number}>{lasted(alert)}</td>
			<td>{alert.taken_by ?? ""}</td>
		</tr>
	);
}

interface TroubleProps {
	alert: Alert;
	chosen: number | null;
	onChoose: (id: number) => void;
	marked: boolean;
	onMark: () => void;
}

/** An alert, and what is folded under it. */
function Trouble({ alert, chosen, onChoose, marked, onMark }: TroubleProps) {
	const [unfolded, setUnfolded] = useState(false);
	return (
		<>
			<Row
				alert={alert}
				chosen={alert.id === chosen}
				onChoose={() => onChoose(alert.id)}
				marked={marked}
				onMark={onMark}
				onUnfold={() => setUnfolded(!unfolded)}
				unfolded={unfolded}
			/>
			{unfolded && <Folded root={alert.id} chosen={chosen} onChoose={onChoose} />}
		</>
	);
}

function Folded({ root, chosen, onChoose }: { root: number; chosen: number | null; onChoose: (id: number) => void }) {
	const { data } = useAlerts({ states: [], root });
	return (data?.alerts ?? []).map((alert) => (
		<Row key={alert.id} alert={alert} chosen={alert.id === chosen} onChoose={() => onChoose(alert.id)} />
	));
}

/** What was raised: open, taken and closed. */
export function Alerts() {
	const [params, setParams] = useSearchParams();
	const shown = SHOWN[params.get("show") ?? ""] ? String(params.get("show")) : "standing";
	const find = params.get("find") ?? "";
	const days = DAYS.find(({ value }) => value === params.get("days"))?.value ?? "";
	const by = ORDERS.find(({ value }) => value === params.get("by"))?.value ?? "raised";
	const { data, error } = useAlerts({
		...(SHOWN[shown] ?? { states: [] }),
		find,
		days: Number(days) || undefined,
		by: by === "raised" ? undefined : by,
	});
	const { shown: alerts, fresh, show } = useCalm(data?.alerts, data?.newest ?? 0, [shown, find, days, by].join("\n"));
	const [marked, setMarked] = useState<Set<number>>(new Set());
	const chosen = Number(params.get("alert")) || alerts[0]?.id || null;
	const mark = (id: number) =>
		setMarked((now) => (now.has(id) ? new Set([...now].filter((one) => one !== id)) : new Set([...now, id])));
	const set = (name: string, value: string) =>
		setParams((now) => {
			if (value) now.set(name, value);
			else now.delete(name);
			return now;
		});
	const look = useDebouncedCallback((text: string) => set("find", text), SETTLE_MS);
	const move = (by: number) => {
		const next = alerts[alerts.findIndex(({ id }) => id === chosen) + by];
		if (next) set("alert", String(next.id));
	};
	useKeys({
		j: () => move(1),
		k: () => move(-1),
		ArrowDown: () => move(1),
		ArrowUp: () => move(-1),
		x: () => chosen !== null && mark(chosen),
		Escape: () => setMarked(new Set()),
	});
	return (
		<main className={classes.screen}>
			<AlertsHead>
				<SegmentedControl
					aria-label="Which alerts"
					size="xs"
					data={Object.entries(SHOWN).map(([value, { label }]) => ({ value, label }))}
					value={shown}
					onChange={(value) => set("show", value)}
				/>
				{data && (
					<p className={classes.counts} data-counts>
						<b>{number(data.counts.open)} open</b> {number(data.counts.taken)} taken, {number(data.counts.closed)}{" "}
						closed
						{data.quiet > 0 && `, ${number(data.quiet)} quiet`}
					</p>
				)}
				<PutOnBoard
					query={new URLSearchParams({
						...(find && { find }),
						state: SHOWN[shown]?.states.join(",") || ALL_STATES,
					}).toString()}
					drawing="alerts"
					title={shown === "standing" ? "Open alerts" : "Alerts"}
				/>
			</AlertsHead>
			<search className={classes.filters}>
				<TextInput
					className={classes.find}
					size="xs"
					aria-label="Filter"
					placeholder="filter: a find text on rules and machines, such as host.site = auk"
					classNames={{ input: classes.code }}
					defaultValue={find}
					onChange={(event) => look(event.currentTarget.value.trim())}
				/>
				<Select
					aria-label="Of which time"
					size="xs"
					w={160}
					data={DAYS}
					value={days}
					onChange={(value) => set("days", value ?? "")}
					allowDeselect={false}
				/>
				<Select
					aria-label="In which order"
					size="xs"
					w={150}
					data={ORDERS}
					value={by}
					onChange={(value) => set("by", value === "raised" ? "" : (value ?? ""))}
					allowDeselect={false}
				/>
				{fresh > 0 && (
					<Button size="compact-sm" onClick={show} data-fresh>
						{number(fresh)} new
					</Button>
				)}
				<NoticeSwitch />
			</search>
			{error && (
				<p className={classes.problem} role="alert">
					{error.message}
				</p>
			)}
			{marked.size > 0 && (
				<Many
					ids={[...marked]}
					people={data?.people ?? []}
					onDone={() => {
						if (chosen !== null && marked.has(chosen)) set("alert", "");
						setMarked(new Set());
					}}
				/>
			)}
			<div className={classes.body}>
				<div className={classes.scroll}>
					{data && alerts.length === 0 && (
						<p className={classes.hint}>
							{find || days ? "No alert is like that." : (NONE[shown] ?? "No alerts yet.")}
						</p>
					)}
					{alerts.length > 0 && (
						<table className={classes.table}>
							<thead>
								<tr>
									<th scope="col" aria-label="chosen" className={classes.narrow} />
									<th scope="col" aria-label="severity" className={classes.narrow} />
									<th scope="col">state</th>
									<th scope="col">alert</th>
									<th scope="col">raised</th>
									<th scope="col" className={classes.number}>
										lasted
									</th>
									<th scope="col">who</th>
								</tr>
							</thead>
							<tbody>
								{alerts.map((alert) => (
									<Trouble
										key={alert.id}
										alert={alert}
										chosen={chosen}
										onChoose={(id) => set("alert", String(id))}
										marked={marked.has(alert.id)}
										onMark={() => mark(alert.id)}
									/>
								))}
							</tbody>
						</table>
					)}
					{data && data.total > data.alerts.length && (
						<p className={classes.hint}>
							The latest {number(data.alerts.length)} of {number(data.total)} are shown.
						</p>
					)}
				</div>
				{chosen !== null && <AlertPanel key={chosen} id={chosen} people={data?.people ?? []} />}
			</div>
			<KeyHints keys={KEYS} />
		</main>
	);
}
