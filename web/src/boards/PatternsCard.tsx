import { Link } from "react-router";
import { Steps, Words, worst } from "../shared/PatternText";
import { equals } from "../shared/question";
import { SeverityTicks } from "../shared/severity";
import { number } from "../shared/time";
import { Change } from "../surveys/Changes";
import classes from "./Boards.module.css";
import type { KindProps } from "./kinds";
import { linesOf } from "./links";

/** Patterns, each leading to its lines. */
export function PatternsCard({ answer, question }: KindProps) {
	const { rows = [], found = 0 } = answer.patterns ?? {};
	if (found === 0) return <p className={classes.hint}>No lines in this time.</p>;
	return (
		<>
			<table className={classes.groups}>
				<tbody>
					{rows.map((pattern) => (
						<tr key={pattern.name} data-mark={pattern.count}>
							<td className={classes.figure}>{number(pattern.count)}</td>
							<td>
								<SeverityTicks code={worst(pattern)} />
							</td>
							<td>
								<Steps pattern={pattern} width={60} />
							</td>
							{pattern.change && (
								<td>
									<Change row={pattern} firstTime={pattern.first_time ?? false} />
								</td>
							)}
							<td className={classes.text}>
								<Link to={linesOf(question, { chips: [...question.chips, equals("pattern", pattern.name)] })}>
									<Words text={pattern.text || "(empty)"} />
								</Link>
							</td>
						</tr>
					))}
				</tbody>
			</table>
			{found > rows.length && (
				<p className={classes.hint}>
					{number(rows.length)} of {number(found)} patterns
				</p>
			)}
		</>
	);
}
