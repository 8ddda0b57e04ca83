import { SegmentedControl } from "@mantine/core";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { KeyHints } from "../shared/KeyHints";
import { useKeys } from "../shared/keys";
import { SeverityTicks } from "../shared/severity";
import { clock, day, number } from "../shared/time";
import { useZone } from "../shared/zone";
import { AlertPanel } from "./AlertPanel";
import classes from "./Alerts.module.css";
import { AlertsHead } from "./AlertsHead";
import { type Alert, lasted, type Shown, useAlerts } from "./api";

const SHOWN: Record<string, { label: string } & Shown> = {
	standing: { label: "open and taken", states: ["open", "taken"], quiet: "no" },
	quiet: { label: "quiet", states: ["open", "taken"], quiet: "only" },
	closed: { label: "closed", states: ["closed"] },
	all: { label: "all", states: [] },
};
const NONE: Record<string, string> = {
	standing:
		"Nothing is wrong that a rule watches for. Make a rule from any question in Investigate: Make → Alert rule.",
	quiet: "No alert is muted, and none stands that was planned.",
};

const KEYS = [
	["j", "next"],
	["k", "previous"],
	["t", "take"],
	["c", "close"],
	["u", "undo"],
	["m", "mute"],
	["Enter", "its lines"],
];

interface RowProps {
	alert: Alert;
	chosen: boolean;
	onChoose: () => void;
	/** Shows what is folded under it, or no more. */
	onUnfold?: () => void;
	unfolded?: boolean;
}

function Row({ alert, chosen, onChoose, onUnfold, unfolded }: RowProps) {
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

/** An alert, and what is folded under it. */
function Trouble({ alert, chosen, onChoose }: { alert: Alert; chosen: number | null; onChoose: (id: number) => void }) {
	const [unfolded, setUnfolded] = useState(false);
	return (
		<>
			<Row
				alert={alert}
				chosen={alert.id === chosen}
				onChoose={() => onChoose(alert.id)}
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
	const { data, error } = useAlerts(SHOWN[shown] ?? { states: [] });
	const alerts = data?.alerts ?? [];
	const chosen = Number(params.get("alert")) || alerts[0]?.id || null;
	const set = (name: string, value: string) =>
		setParams((now) => {
			now.set(name, value);
			return now;
		});
	const move = (by: number) => {
		const next = alerts[alerts.findIndex(({ id }) => id === chosen) + by];
		if (next) set("alert", String(next.id));
	};
	useKeys({ j: () => move(1), k: () => move(-1), ArrowDown: () => move(1), ArrowUp: () => move(-1) });
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
			</AlertsHead>
			{error && (
				<p className={classes.problem} role="alert">
					{error.message}
				</p>
			)}
			<div className={classes.body}>
				<div className={classes.scroll}>
					{data && alerts.length === 0 && <p className={classes.hint}>{NONE[shown] ?? "No alerts yet."}</p>}
					{alerts.length > 0 && (
						<table className={classes.table}>
							<thead>
								<tr>
									<th scope="col" aria-label="severity" />
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
									<Trouble key={alert.id} alert={alert} chosen={chosen} onChoose={(id) => set("alert", String(id))} />
								))}
							</tbody>
						</table>
					)}
					{data && data.total > alerts.length && (
						<p className={classes.hint}>
							The latest {number(alerts.length)} of {number(data.total)} are shown.
						</p>
					)}
				</div>
				{chosen !== null && <AlertPanel key={chosen} id={chosen} />}
			</div>
			<KeyHints keys={KEYS} />
		</main>
	);
}
