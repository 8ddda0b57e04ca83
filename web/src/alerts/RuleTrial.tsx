import { SegmentedControl } from "@mantine/core";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { answer, api } from "../api/client";
import { clock, day, duration, number } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Alerts.module.css";
import { type AlertTrial, lasted, linesOf } from "./api";
import { complete, type Draft, write } from "./definition";
import { TrialRail } from "./TrialRail";

const DAYS = [1, 7, 30] as const;
const LONGEST = 30;
/** What so few days say is there at once, and told until the others are looked at. */
const FIRST = 1;
const SHOWN = 30;
const WIDTH = 400;
const HEIGHT = 150;
const LEFT = 44;
const RIGHT = 20;
const BOTTOM = 22;
const COUNTS = [1, 3, 10, 30, 100, 1000];

interface CurveProps {
	curve: AlertTrial["curve"];
	level: number | null;
	/** Of a measure; nothing for how often it takes. */
	unit?: string;
	onLevel: (level: number) => void;
}

/** How many alerts there are, by how often it takes; a click chooses. Both axes are logarithmic. */
function Curve({ curve, level, unit, onLevel }: CurveProps) {
	const most = Math.max(1, ...curve.map(({ alerts }) => alerts));
	const levels = curve.map((one) => one.level);
	const first = Math.min(...levels.filter((value) => value > 0));
	const last = Math.max(first * 2, ...levels);
	const share = (value: number) => Math.log(Math.max(value, first) / first) / Math.log(last / first);
	const x = (value: number) => LEFT + share(value) * (WIDTH - LEFT - RIGHT);
	const marks = unit === undefined ? COUNTS.filter((value) => value <= last) : [first, Math.sqrt(first * last), last];
	const y = (alerts: number) => (1 - Math.log1p(alerts) / Math.log1p(most)) * (HEIGHT - BOTTOM - 10) + 8;
	const points = curve.map((one) => `${x(one.level)},${y(one.alerts)}`).join(" ");
	return (
		<figure className={classes.curve}>
			<figcaption>
				Alerts by {unit === undefined ? "how often it takes" : "level"}; click a point to choose it
			</figcaption>
			{/* biome-ignore lint/a11y/useSemanticElements: SVG has no fieldset */}
			<svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="group" aria-label="alerts by level">
				{[0, most].map((alerts) => (
					<g key={alerts}>
						<line x1={LEFT} x2={WIDTH} y1={y(alerts)} y2={y(alerts)} stroke="var(--rule)" />
						<text x={LEFT - 10} y={y(alerts) + 4} textAnchor="end">
							{number(alerts)}
						</text>
					</g>
				))}
				<polyline points={points} fill="none" stroke="var(--primary)" strokeWidth="2" />
				{level !== null && (
					<line
						x1={x(level)}
						x2={x(level)}
						y1={4}
						y2={HEIGHT - BOTTOM}
						stroke="var(--severity-error)"
						strokeWidth="2"
					/>
				)}
				{curve.map((one) => (
					// biome-ignore lint/a11y/useSemanticElements: a drawing has no buttons
					<g
						key={one.level}
						role="button"
						tabIndex={0}
						aria-label={`${one.level}: ${number(one.alerts)} alerts`}
						aria-pressed={one.level === level}
						className={classes.point}
						onClick={() => onLevel(one.level)}
						onKeyDown={(event) => event.key === "Enter" && onLevel(one.level)}
						data-level={one.level}
					>
						<circle cx={x(one.level)} cy={y(one.alerts)} r="9" fill="transparent" />
						<circle
							cx={x(one.level)}
							cy={y(one.alerts)}
							r={one.level === level ? 5 : 3}
							fill={one.level === level ? "var(--severity-error)" : "var(--primary)"}
						/>
					</g>
				))}
				{marks.map((value) => (
					<text key={value} x={x(value)} y={HEIGHT - 6} textAnchor="middle">
						{unit === undefined ? value : `${Number(value.toPrecision(2))}${unit ? ` ${unit}` : ""}`}
					</text>
				))}
			</svg>
		</figure>
	);
}

/** What it would have told of, and how much sooner. */
function Caught({ trial }: { trial: AlertTrial }) {
	const { zone } = useZone();
	if (trial.caught.length === 0) return null;
	const sooner = (us: number) => (us < 0 ? `${duration(-us)} after it` : `${duration(us)} before`);
	return (
		<>
			<h3>It would have told of</h3>
			<ul className={classes.found}>
				{trial.caught.map((one) => (
					<li key={`${one.kind} ${one.at_us} ${one.says}`} data-caught={one.kind}>
						{one.kind === "case" ? <Link to={`/cases/${one.id}`}>{one.says}</Link> : `a restart, ${one.says}`},{" "}
						{day(one.at_us, zone)} {clock(one.at_us, zone)}: {sooner(one.before_us)}
						{one.kind === "case" && one.before_us >= 0 && " it was opened"}
					</li>
				))}
			</ul>
		</>
	);
}

/** What a rule would have raised in so many days. */
function useTrial(draft: Draft, days: number, enabled: boolean) {
	const { zone } = useZone();
	const definition = write(draft, zone);
	return useQuery({
		queryKey: ["alert trial", definition.when, definition.quiet, definition.hours, days, zone],
		queryFn: ({ signal }) => answer(api.POST("/api/alert-rules/trial", { body: { definition, days, zone }, signal })),
		enabled: enabled && complete(draft),
		placeholderData: keepPreviousData,
		retry: false,
	});
}

/** When it would have been raised, and how long it lasted. */
function Found({ trial }: { trial: AlertTrial }) {
	const { zone } = useZone();
	return (
		<div>
			<ol className={classes.found}>
				{trial.found
					.slice(-SHOWN)
					.reverse()
					.map((one) => (
						<li key={`${one.key.join()} ${one.raised_us}`} data-found>
							<b>
								{day(one.raised_us, zone)} {clock(one.raised_us, zone)}
							</b>
							, {lasted(one)}
							{one.key.length > 0 && `, ${one.key.join(" · ")}`} <Link to={linesOf(one)}>lines</Link>
						</li>
					))}
			</ol>
			{trial.alerts > SHOWN && (
				<p className={classes.hint}>
					The latest {SHOWN} of {number(trial.alerts)} are shown.
				</p>
			)}
		</div>
	);
}

interface RuleTrialProps {
	draft: Draft;
	onProblem: (problem: Error | null) => void;
	onLevel: (level: number, unit: string) => void;
}

/** What a rule would have raised in the last days. */
export function RuleTrial({ draft, onProblem, onLevel }: RuleTrialProps) {
	const [days, setDays] = useState<number>(LONGEST);
	const trial = useTrial(draft, days, true);
	const waits = trial.isFetching && (trial.isPlaceholderData || !trial.data);
	const first = useTrial(draft, FIRST, days > FIRST && waits);
	const { error } = trial;
	useEffect(() => onProblem(error), [error, onProblem]);
	const early = waits && first.data && !first.isPlaceholderData ? first.data : undefined;
	const told = error ? undefined : (early ?? trial.data);
	return (
		<section className={classes.tried} aria-label="On the past" aria-busy={trial.isFetching}>
			<h2>On the past it would have raised</h2>
			<SegmentedControl
				aria-label="Of which days"
				size="xs"
				data={DAYS.map((value) => ({ value: String(value), label: value === 1 ? "last day" : `${value} days` }))}
				value={String(days)}
				onChange={(value) => setDays(Number(value))}
			/>
			{!complete(draft) && <p className={classes.hint}>Say which lines it is about.</p>}
			{complete(draft) && !told && !error && <p className={classes.hint}>Looking at the lines…</p>}
			{told && (
				<>
					{early && (
						<p className={classes.hint} role="status">
							Of the last day; the other days are being looked at…
						</p>
					)}
					<p className={classes.figures} data-trial={early ? "first" : ""}>
						<b>{number(told.alerts)}</b> {told.alerts === 1 ? "alert" : "alerts"} <b>{number(told.lines)}</b> lines
						{told.cut && " and more: the first of them were looked at"}
					</p>
					{told.lines > 0 && told.all_lines > 0 && (
						<p className={classes.hint}>
							{((told.lines / told.all_lines) * 100).toPrecision(2)} % of the {number(told.all_lines)} lines of that
							time are looked at for it.
						</p>
					)}
					<Caught trial={told} />
					{told.curve.length > 0 && told.lines > 0 && (
						<Curve
							curve={told.curve}
							level={told.level}
							unit={draft.kind === "measure" ? told.unit : undefined}
							onLevel={(level) => onLevel(level, told.unit)}
						/>
					)}
					<div className={classes.onRail}>
						<TrialRail trial={told} />
						<Found trial={told} />
					</div>
				</>
			)}
		</section>
	);
}
