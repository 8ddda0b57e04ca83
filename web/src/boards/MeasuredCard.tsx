import { Link, useNavigate } from "react-router";
import type { Group } from "../api/types";
import { allGroups, groupColor, groupName } from "../measure/groups";
import { type Form, MeasureChart } from "../measure/MeasureChart";
import { quantity } from "../shared/quantity";
import type { Question } from "../shared/question";
import classes from "./Boards.module.css";
import { FigureTable } from "./FigureTable";
import type { KindProps } from "./kinds";
import { linesOfMark, type Measured, markOf } from "./links";
import { Since, Trend } from "./Trend";

const FORMS: Record<string, Form> = { line: "line", area: "area", bars: "bars", stacked: "stacked", share: "pie" };
/** Of a share, whose parts stand with their names below it. */
const SHARE_HEIGHT = 200;
/** The line that says since when a level is another. */
const SINCE_HEIGHT = 22;

interface Props {
	measured: Measured;
	question: Question;
}

/** Of each group its figure, leading to its lines. */
function Groups({ measured, question }: Props) {
	return (
		<table className={classes.groups}>
			<tbody>
				{allGroups(measured).map((group, index) => (
					<tr key={groupName(group)} data-mark={markOf(measured, group.value)}>
						<td>
							<i className={classes.swatch} style={{ background: groupColor(group, index) }} />
							<Link to={linesOfMark(question, measured, group)}>{groupName(group)}</Link>
						</td>
						{measured.before && (
							<td className={classes.second}>
								{measured.before.groups[index] && quantity(measured.before.groups[index].value, measured.unit)}
							</td>
						)}
						<td className={classes.figure}>{quantity(group.value, measured.unit)}</td>
					</tr>
				))}
			</tbody>
		</table>
	);
}

function One({ measured, question }: Props) {
	const { whole, unit, before } = measured;
	return (
		<>
			<p className={classes.number}>
				<Link to={linesOfMark(question, measured, whole)} className={classes.one} data-figure={whole.value ?? ""}>
					{quantity(whole.value, unit)}
				</Link>{" "}
				<Trend measured={measured} question={question} />
			</p>
			{before && <p className={classes.second}>{quantity(before.whole.value, unit)} in what it is compared with</p>}
		</>
	);
}

/** What a card measures, drawn; a mark that is clicked opens its lines. */
export function MeasuredCard({ answer, drawing, question, height, figures }: KindProps) {
	const navigate = useNavigate();
	const measured = answer.measurement;
	if (!measured || measured.total === 0) return <p className={classes.hint}>No lines in this time.</p>;
	const props = { measured, question };
	if (figures) return <FigureTable {...props} />;
	if (drawing === "number") return <One {...props} />;
	const form = FORMS[drawing];
	if (!form) return <Groups {...props} />;
	const share = drawing === "share";
	// Between the marks of several groups there is the step as a whole.
	const onWindow = (from: number, to: number, group: Group = measured.whole) =>
		navigate(linesOfMark(question, measured, group, { from, to }));
	return (
		<>
			<MeasureChart
				measurement={measured}
				form={form}
				height={share ? Math.min(height / 2, SHARE_HEIGHT) : height - (measured.trend ? SINCE_HEIGHT : 0)}
				onWindow={onWindow}
				onGroup={(group) => navigate(linesOfMark(question, measured, group))}
			/>
			{share ? <Groups {...props} /> : <Since {...props} />}
		</>
	);
}
