import { Button } from "@mantine/core";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { lasted, linesOf, useAlertActions } from "../alerts/api";
import { useKeys } from "../shared/keys";
import { windowOf, write } from "../shared/question";
import { Allowed, useBarred } from "../shared/session";
import { SeverityTicks } from "../shared/severity";
import { clock, day, duration, number } from "../shared/time";
import { useZone } from "../shared/zone";
import { type AlertNow, type By, type TroubleNow, useNow } from "./api";
import classes from "./Now.module.css";
import { Strips } from "./Strips";

const AROUND_US = 3_600_000_000;
const KEYS = [
	["j", "next"],
	["k", "previous"],
	["Enter", "open"],
	["w", "why"],
	["t", "take"],
];

const causesOf = (machine: string, atUs: number) => `/causes?${new URLSearchParams({ at: String(atUs), machine })}`;
const openOf = (alert: AlertNow) => `/alerts?${new URLSearchParams({ show: "all", alert: String(alert.id) })}`;

const times = (count: number) => (count === 1 ? "once before" : `${number(count)} times before`);

function AlertItem({ alert }: { alert: AlertNow }) {
	const { zone } = useZone();
	const { act } = useAlertActions();
	return (
		<>
			<SeverityTicks code={alert.worst} />
			<div>
				<h3>
					<Link to={openOf(alert)}>{alert.name}</Link>
				</h3>
				<p>
					<b>{alert.key.map(({ value }) => value).join(", ")}</b> since {day(alert.raised_us, zone)}{" "}
					{clock(alert.raised_us, zone)}, {lasted(alert)}
					{alert.folded > 0 && (
						<>
							{" "}
							· <Link to={openOf(alert)}>{number(alert.folded)} more because of it</Link>
						</>
					)}
				</p>
				<dl>
					{alert.likely && (
						<>
							<dt>likely</dt>
							<dd>{alert.likely}</dd>
						</>
					)}
					<dt>last time</dt>
					<dd>
						{alert.last_remedy ??
							(alert.times_before > 0 ? `seen ${times(alert.times_before)}, no remedy noted` : "not seen before")}
					</dd>
					{alert.taken_by && (
						<>
							<dt>taken by</dt>
							<dd>{alert.taken_by}</dd>
						</>
					)}
					{alert.calm_us !== null && (
						<>
							<dt>by now</dt>
							<dd>
								back to normal since {day(alert.calm_us, zone)} {clock(alert.calm_us, zone)}
							</dd>
						</>
					)}
				</dl>
			</div>
			<div className={classes.acts}>
				<Link to={linesOf(alert)}>Lines</Link>
				{alert.machine && <Link to={causesOf(alert.machine, alert.from_us)}>Why</Link>}
				{alert.state === "open" && (
					<Allowed to="POST /api/alerts/actions">
						<Button size="compact-xs" variant="default" onClick={() => act.mutate({ action: "take", ids: [alert.id] })}>
							Take
						</Button>
					</Allowed>
				)}
			</div>
		</>
	);
}

const troubleLines = (trouble: TroubleNow, nowUs: number) =>
	`/?${write({ ...windowOf(trouble.since_us - AROUND_US / 6, Math.min(trouble.since_us + AROUND_US, nowUs)), find: trouble.find })}`;

function TroubleItem({ trouble, nowUs }: { trouble: TroubleNow; nowUs: number }) {
	const { zone } = useZone();
	return (
		<>
			<SeverityTicks code={trouble.severity} />
			<div>
				<h3>{trouble.says}</h3>
				<p>
					<b>{trouble.machine}</b> since {day(trouble.since_us, zone)} {clock(trouble.since_us, zone)},{" "}
					{duration(nowUs - trouble.since_us)}
				</p>
			</div>
			<div className={classes.acts}>
				<Link to={troubleLines(trouble, nowUs)}>Lines</Link>
				{trouble.machine && <Link to={causesOf(trouble.machine, trouble.since_us)}>Why</Link>}
			</div>
		</>
	);
}

/** What is wrong, the most important first; and how services and machines have been. */
export function Now() {
	const { zone } = useZone();
	const navigate = useNavigate();
	const [params, setParams] = useSearchParams();
	const [chosen, setChosen] = useState(0);
	const { data, error } = useNow();
	const { act } = useAlertActions();
	const barred = useBarred("POST /api/alerts/actions").disabled;
	const by: By = params.get("by") === "machine" ? "machine" : "service";
	const alerts = data?.alerts ?? [];
	const troubles = data?.troubles ?? [];
	const items = alerts.length + troubles.length;
	const alert = alerts[chosen];
	const trouble = troubles[chosen - alerts.length];
	const move = (step: number) => setChosen((now) => Math.min(Math.max(0, now + step), Math.max(0, items - 1)));
	const why = () => {
		const machine = alert?.machine ?? trouble?.machine;
		const at = alert?.from_us ?? trouble?.since_us;
		if (machine && at) navigate(causesOf(machine, at));
	};
	useKeys({
		j: () => move(1),
		k: () => move(-1),
		ArrowDown: () => move(1),
		ArrowUp: () => move(-1),
		w: why,
		t: () => alert?.state === "open" && !barred && act.mutate({ action: "take", ids: [alert.id] }),
		Enter: () => {
			if (alert) navigate(openOf(alert));
			else if (trouble && data) navigate(troubleLines(trouble, data.at_us));
		},
	});
	const problem = error ?? act.error;
	return (
		<main className={classes.screen}>
			<div className={classes.columns}>
				<section aria-label="Wrong now" className={classes.wrong}>
					<div className={classes.title}>
						<h1>Wrong now</h1>
						{data && items > 0 && (
							<span data-summary>
								{number(alerts.length)} {alerts.length === 1 ? "alert" : "alerts"}
								{troubles.length > 0 && `, ${number(troubles.length)} without an alert`}
							</span>
						)}
					</div>
					{problem && (
						<p className={classes.problem} role="alert">
							{problem.message}
						</p>
					)}
					{data && items === 0 && (
						<p className={classes.calm} data-calm>
							Nothing is wrong.
							{data.calm_us !== null &&
								` The last alert was closed ${day(data.calm_us, zone)} ${clock(data.calm_us, zone)}.`}
						</p>
					)}
					<ol>
						{alerts.map((one, index) => (
							<li key={`alert ${one.id}`} data-wrong={one.name} data-chosen={index === chosen || undefined}>
								<AlertItem alert={one} />
							</li>
						))}
						{troubles.map((one, index) => (
							<li
								key={`${one.kind} ${one.machine} ${one.since_us} ${one.says}`}
								data-wrong={one.kind}
								data-chosen={index + alerts.length === chosen || undefined}
							>
								<TroubleItem trouble={one} nowUs={data?.at_us ?? 0} />
							</li>
						))}
					</ol>
					{data && (
						<p className={classes.rest}>
							<Link to="/alerts?show=closed">{number(data.closed)} closed in the last 24 hours</Link>
							{data.quiet > 0 && (
								<>
									{" "}
									· <Link to="/alerts?show=quiet">{number(data.quiet)} quiet</Link>
								</>
							)}
						</p>
					)}
				</section>
				<div className={classes.day}>
					<Strips
						by={by}
						onBy={(value) => setParams((now) => ({ ...Object.fromEntries(now), by: value }), { replace: true })}
					/>
					{data && data.changes.length > 0 && (
						<section aria-label="Changes" className={classes.changes}>
							<div className={classes.title}>
								<h2>Changed in the last 24 hours</h2>
								<Link to="/logbook">the logbook</Link>
							</div>
							<ul>
								{data.changes.map((change) => (
									<li key={change.id}>
										<span className={classes.when}>{clock(change.time_us, zone).slice(0, 5)}</span>{" "}
										<b>{change.machine}</b> {change.says}
									</li>
								))}
							</ul>
						</section>
					)}
				</div>
			</div>
			<footer className={classes.foot}>
				{data && (
					<span>
						as of {day(data.at_us, zone)} {clock(data.at_us, zone)}
					</span>
				)}
				<span className={classes.keys}>
					{KEYS.map(([key, says]) => (
						<span key={key}>
							<kbd>{key}</kbd> {says}
						</span>
					))}
				</span>
			</footer>
		</main>
	);
}
