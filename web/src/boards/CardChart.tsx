import { Link, useNavigate } from "react-router";
import type { Group } from "../api/types";
import type { CardAnswer, Drawing } from "../cards/api";
import { conditions, type Form, groupColor, groupName, MeasureChart } from "../measure/MeasureChart";
import { quantity } from "../shared/quantity";
import { type Question, write } from "../shared/question";
import classes from "./Boards.module.css";

const FORMS: Partial<Record<Drawing, Form>> = {
	line: "line",
	area: "area",
	bars: "bars",
	stacked: "stacked",
	share: "pie",
};

/** Of a share, whose parts stand with their names below it. */
const SHARE_HEIGHT = 200;

interface Props {
	answer: CardAnswer;
	drawing: Drawing;
	/** Whose lines a mark is about. */
	question: Question;
	height: number;
}

/** The lines of a question, or of a part of it. */
export function linesOf(question: Question, part: Partial<Question> = {}): string {
	return `/?${write({ ...question, ...part, measure: "", view: "lines" })}`;
}

function linesOfGroup(question: Question, answer: CardAnswer, group: Group): string {
	return linesOf(question, { chips: [...new Set([...question.chips, ...conditions(answer, group)])] });
}

function Groups({ answer, question }: Pick<Props, "answer" | "question">) {
	const all = answer.other ? [...answer.groups, answer.other] : answer.groups;
	return (
		<table className={classes.groups}>
			<tbody>
				{all.map((group, index) => (
					<tr key={groupName(group)}>
						<td>
							<i className={classes.swatch} style={{ background: groupColor(group, index) }} />
							{group.by === null ? "other" : <Link to={linesOfGroup(question, answer, group)}>{groupName(group)}</Link>}
						</td>
						<td className={classes.figure}>{quantity(group.value, answer.unit)}</td>
					</tr>
				))}
			</tbody>
		</table>
	);
}

/** What a card measures, drawn; a mark that is clicked opens its lines. */
export function CardChart({ answer, drawing, question, height }: Props) {
	const navigate = useNavigate();
	if (answer.total === 0) return <p className={classes.hint}>No lines in this time.</p>;
	if (drawing === "number")
		return (
			<Link to={linesOf(question)} className={classes.one} data-figure={answer.whole.value ?? ""}>
				{quantity(answer.whole.value, answer.unit)}
			</Link>
		);
	const form = FORMS[drawing];
	const groups = <Groups answer={answer} question={question} />;
	if (!form) return groups;
	const share = drawing === "share";
	return (
		<>
			<MeasureChart
				measurement={answer}
				form={form}
				height={share ? Math.min(height / 2, SHARE_HEIGHT) : height}
				onWindow={(fromUs, toUs) => navigate(linesOf(question, { fromUs, toUs }))}
				onGroup={(group) => group.by && navigate(linesOfGroup(question, answer, group))}
			/>
			{share && groups}
		</>
	);
}
