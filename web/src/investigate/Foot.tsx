import type { Histogram, Silence, Status } from "../api/types";
import { duration, number } from "../shared/time";
import classes from "./Foot.module.css";
import { shownTotal } from "./histogram";

const KEYS: [string[], string][] = [
	[["/"], "find"],
	[["j", "k"], "move"],
	[["n"], "next match"],
	[["?"], "keys"],
];
const MOST = 2;

interface Props {
	status: Status;
	/** Of this question, once it is counted. */
	histogram: Histogram | undefined;
	/** Why what is known of the whole may be old. */
	problem: Error | null;
	hidden: string[];
	silences: Silence[];
	noiseShown: boolean;
	onNoise: (shown: boolean) => void;
	onHelp: () => void;
}

/** How many of how many, how long it took, and who has gone silent. */
export function Foot({ status, histogram, problem, hidden, silences, noiseShown, onNoise, onHelp }: Props) {
	const open = silences.filter((silence) => silence.open).sort((one, other) => one.from_us - other.from_us);
	return (
		<footer className={classes.foot}>
			{histogram && (
				<>
					<span data-total>
						{number(shownTotal(histogram, hidden))} of {number(status.lines)} lines
					</span>
					<span>{Math.round(histogram.milliseconds)} ms</span>
				</>
			)}
			{problem && (
				<span className={classes.silent} role="status">
					{problem.message}
				</span>
			)}
			<span>
				{number(status.machines.length)} {status.machines.length === 1 ? "machine" : "machines"}
			</span>
			{status.hiding > 0 && (
				<button type="button" className="plain" aria-pressed={noiseShown} onClick={() => onNoise(!noiseShown)}>
					{number(status.hiding)} noise {status.hiding === 1 ? "rule hides" : "rules hide"} lines:{" "}
					<u>{noiseShown ? "hide them" : "show them"}</u>
				</button>
			)}
			{open.slice(0, MOST).map((silence) => (
				<span key={silence.machine} className={classes.silent}>
					{silence.machine} silent for {duration(silence.to_us - silence.from_us)}
				</span>
			))}
			{open.length > MOST && <span className={classes.silent}>and {open.length - MOST} more</span>}
			<span className={classes.keys}>
				{KEYS.map(([keys, name]) => (
					<button key={name} type="button" className="plain" onClick={onHelp}>
						{keys.map((key) => (
							<kbd key={key}>{key}</kbd>
						))}{" "}
						{name}
					</button>
				))}
			</span>
		</footer>
	);
}
