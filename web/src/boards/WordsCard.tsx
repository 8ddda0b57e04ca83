import { Link } from "react-router";
import { quote } from "../shared/question";
import { number } from "../shared/time";
import { Change } from "../surveys/Changes";
import classes from "./Boards.module.css";
import type { KindProps } from "./kinds";
import { linesOf } from "./links";

/** Words, each leading to the lines that have it. */
export function WordsCard({ answer, question }: KindProps) {
	const rows = answer.words?.rows ?? [];
	const most = Math.max(...rows.map(({ count }) => count), 1);
	if (rows.length === 0) return <p className={classes.hint}>The lines have no words but common ones.</p>;
	return (
		<table className={classes.groups}>
			<tbody>
				{rows.map((word) => (
					<tr key={word.word} data-mark={word.count}>
						<td className={classes.text}>
							<Link to={linesOf(question, { chips: [...question.chips, quote(word.word)] })}>{word.word}</Link>
						</td>
						{word.change && (
							<td>
								<Change row={word} />
							</td>
						)}
						<td className={classes.barCell} aria-hidden>
							<i className={classes.bar} style={{ width: `${(100 * word.count) / most}%` }} />
						</td>
						<td className={classes.figure}>{number(word.count)}</td>
					</tr>
				))}
			</tbody>
		</table>
	);
}
