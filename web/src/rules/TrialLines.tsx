import type { TrialLine, Values } from "./api";
import classes from "./Rules.module.css";

function Taken({ values, names }: { values: Values; names: string[] }) {
	return (
		<span className={classes.values}>
			{names.map((name, index) => (
				<span key={name} data-unfit={values[name] === null || undefined}>
					<i style={{ background: `var(--series-${index % 10})` }} /> {name}{" "}
					<b>
						{values[name] === undefined ? "–" : values[name] === null ? "does not fit its type" : String(values[name])}
					</b>
				</span>
			))}
		</span>
	);
}

interface Props {
	lines: TrialLine[];
	/** Parts of the expression, in their order. */
	names: string[];
	/** Takes a line among the samples. */
	onSample?: (message: string) => void;
	onRemove?: (message: string) => void;
}

/** What a parser gives on lines. */
export function TrialLines({ lines, names, onSample, onRemove }: Props) {
	return (
		<ul className={classes.trial}>
			{lines.map((line, index) => (
				<li key={`${index}${line.message}`} data-matched={line.values !== null}>
					<span className={classes.message} title={line.message}>
						<span role="img" aria-label={line.values ? "matches" : "does not match"}>
							{line.values ? "✓" : "✕"}
						</span>{" "}
						{line.message}
					</span>
					{line.values && <Taken values={line.values} names={names} />}
					{onSample && (
						<button type="button" className="plain" onClick={() => onSample(line.message)}>
							as a sample
						</button>
					)}
					{onRemove && lines.length > 1 && (
						<button type="button" className="plain" onClick={() => onRemove(line.message)}>
							remove
						</button>
					)}
				</li>
			))}
		</ul>
	);
}
