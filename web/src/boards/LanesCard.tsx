import { Link } from "react-router";
import { exactly, has } from "../shared/question";
import { severityColor } from "../shared/severity";
import { number, stepName } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Boards.module.css";
import type { KindProps } from "./kinds";
import { linesOf, within } from "./links";

const NAMES = 120;
const ROW = 22;
/** Severities that colour a step. */
const BAD = 4;

/** A lane for each machine or service, in order of who turned bad first; time runs to the right. */
export function LanesCard({ answer, question, width }: KindProps) {
	const { zone } = useZone();
	const told = answer.histogram;
	if (!told || told.total === 0) return <p className={classes.hint}>No lines in this time.</p>;
	const field = told.field ?? "host.name";
	const wide = Math.max((width - NAMES) / told.steps, 1);
	const most = Math.max(...told.series.flatMap((one) => one.counts.map(([, ...by]) => by.reduce((a, b) => a + b, 0))));
	const timeOf = (step: number) => told.start_us + step * told.step_us;
	return (
		<>
			<ul className={classes.lanes} aria-label={`Lanes by ${field}`}>
				{told.series.map(({ name, counts, total }) => {
					const chips = [...question.chips, name === null ? `not ${has(field)}` : exactly(field, name)];
					return (
						<li key={name ?? ""}>
							<Link to={linesOf(question, { chips })} title={`${number(total)} lines`} data-mark={total}>
								{name ?? "no name"}
							</Link>
							<svg width={wide * told.steps} height={ROW} role="img" aria-label={`${number(total)} lines by time`}>
								{counts.map(([step = 0, ...by]) => {
									const sum = by.reduce((all, n) => all + n, 0);
									const worst = by.findIndex((n) => n > 0);
									const bad = worst !== -1 && worst <= BAD;
									return (
										<Link
											key={step}
											to={linesOf(question, { chips, ...within(question, timeOf(step), timeOf(step + 1)) })}
											tabIndex={-1}
											data-mark={sum}
										>
											<title>{`${stepName(timeOf(step), told.step_us, zone)}: ${number(sum)} lines`}</title>
											<rect
												x={step * wide}
												y="3"
												width={Math.max(wide - 1, 1)}
												height={ROW - 6}
												fill={severityColor(bad ? worst : 6)}
												opacity={bad ? 1 : 0.3 + 0.6 * Math.sqrt(sum / most)}
											/>
										</Link>
									);
								})}
							</svg>
						</li>
					);
				})}
			</ul>
			{told.others > 0 && <p className={classes.hint}>{number(told.others)} more lanes; narrow for the rest</p>}
		</>
	);
}
