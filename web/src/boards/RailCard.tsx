import { Link } from "react-router";
import type { Question } from "../shared/question";
import { SEVERITIES, severityColor, severityName } from "../shared/severity";
import { number, stepName } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Boards.module.css";
import type { KindProps } from "./kinds";
import { linesOf, within } from "./links";

const LEFT = 58;
const LABEL_EVERY = 34;

/** The lines of one severity and step. */
function only(question: Question, code: number, fromUs: number, toUs: number): string {
	const chips = [...question.chips, `severity = ${SEVERITIES[code]}`];
	return linesOf(question, { chips, ...within(question, fromUs, toUs) });
}

/** Lines by time, oldest at the top, and by severity. */
export function RailCard({ answer, question, width, height }: KindProps) {
	const { zone } = useZone();
	const told = answer.histogram;
	if (!told || told.total === 0) return <p className={classes.hint}>No lines in this time.</p>;
	const counts = told.series.flatMap((one) => one.counts);
	const sum = (row: number[]) => row.slice(1).reduce((all, n) => all + n, 0);
	const most = Math.max(...counts.map(sum), ...(told.beside ?? []), 1);
	const tall = Math.max(height / told.steps, 1);
	const scale = Math.max(width - LEFT - 4, 1) / most;
	const every = Math.max(1, Math.ceil(LABEL_EVERY / tall));
	const timeOf = (step: number) => told.start_us + step * told.step_us;
	return (
		<svg width={width} height={height} role="img" aria-label={`${number(told.total)} lines by time`}>
			{Array.from({ length: Math.ceil(told.steps / every) }, (_, index) => index * every).map((step) => (
				<text key={step} x={LEFT - 6} y={step * tall + 10} className={classes.tick} textAnchor="end">
					{stepName(timeOf(step), told.step_us, zone)}
				</text>
			))}
			{counts.map(([step = 0, ...by]) => {
				let x = LEFT;
				return by.map((n, code) => {
					if (!n) return null;
					const wide = Math.max(n * scale, 1);
					const from = x;
					x += wide;
					return (
						<Link
							key={`${step} ${SEVERITIES[code]}`}
							to={only(question, code, timeOf(step), timeOf(step + 1))}
							tabIndex={-1}
							data-mark={n}
						>
							<title>{`${stepName(timeOf(step), told.step_us, zone)}: ${number(n)} ${severityName(code)}`}</title>
							<rect x={from} y={step * tall} width={wide} height={Math.max(tall - 1, 1)} fill={severityColor(code)} />
						</Link>
					);
				});
			})}
			{told.beside && (
				<path
					className={classes.beside}
					d={`M${LEFT} 0 ${told.beside.map((n, step) => `L${LEFT + n * scale} ${step * tall} V${(step + 1) * tall}`).join(" ")}`}
				>
					<title>what it is compared with</title>
				</path>
			)}
		</svg>
	);
}
