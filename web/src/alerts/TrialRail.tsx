import { Link } from "react-router";
import { clock, DAY_US, day, duration, number } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Alerts.module.css";
import { type AlertTrial, linesOf } from "./api";

const HOUR_US = 3_600_000_000;
/** Of days, so many have one with its name. */
const NAMED = 5;
/** However short an alert was, so much of its step is marked. */
const LEAST = 0.12;

interface Step {
	from: number;
	to: number;
	lines: number;
	found: AlertTrial["found"];
}

function steps({ rail, found, to_us }: AlertTrial): Step[] {
	return rail.map(({ from_us: from, lines }, at) => {
		const to = rail[at + 1]?.from_us ?? to_us;
		return { from, to, lines, found: found.filter((one) => one.raised_us < to && one.last_us >= from) };
	});
}

/** How much of a step an alert stood. */
function lastedIn({ from, to, found }: Step): number {
	return found.reduce((us, one) => us + Math.min(one.last_us, to) - Math.max(one.raised_us, from), 0);
}

function name({ from, to }: Step, at: number, before: Step | undefined, zone: string): string {
	if (to - from > DAY_US / 2) return at % NAMED === 0 ? day(from, zone) : "";
	if (!before || day(from, zone) !== day(before.from, zone)) return day(from, zone);
	return to - from <= 2 * HOUR_US && at % 3 === 0 ? clock(from, zone) : "";
}

function says(step: Step, zone: string): string {
	const { from, to, lines, found } = step;
	const until = to - from > DAY_US / 2 ? "" : ` ${clock(from, zone)} – ${clock(to, zone)}`;
	const alerts =
		found.length > 0 &&
		`, ${number(found.length)} ${found.length === 1 ? "alert" : "alerts"}, ${duration(lastedIn(step))}`;
	return `${day(from, zone)}${until}: ${number(lines)} ${lines === 1 ? "line" : "lines"}${alerts || ""}`;
}

/** All lines of the days from the top down, and when it would have been raised among them: a mark leads to its lines. */
export function TrialRail({ trial }: { trial: AlertTrial }) {
	const { zone } = useZone();
	const all = steps(trial);
	const most = Math.max(1, ...all.map(({ lines }) => lines));
	return (
		<ol className={classes.rail} aria-label="alerts over time">
			{all.map((step, at) => {
				const share = Math.min(1, Math.max(LEAST, lastedIn(step) / (step.to - step.from)));
				return (
					<li key={step.from} title={says(step, zone)} data-alerts={step.found.length || undefined}>
						<span className={classes.railName}>{name(step, at, all[at - 1], zone)}</span>
						{step.found.length > 0 ? (
							<Link to={linesOf(spanOf(step.found))} aria-label={says(step, zone)} className={classes.railMark}>
								◆
							</Link>
						) : (
							<span />
						)}
						<span className={classes.railVolume}>
							<span style={{ width: `${(step.lines / most) * 100}%` }} />
							{step.found.length > 0 && <i style={{ width: `${share * 100}%` }} />}
						</span>
					</li>
				);
			})}
		</ol>
	);
}

/** From the first of them to the last, whatever they are told apart by. */
function spanOf(found: AlertTrial["found"]) {
	const finds = [...new Set(found.map(({ find }) => find))];
	return {
		find: finds.length > 1 ? finds.map((find) => `(${find})`).join(" or ") : (finds[0] ?? ""),
		from_us: Math.min(...found.map(({ from_us }) => from_us)),
		last_us: Math.max(...found.map(({ last_us }) => last_us)),
	};
}
