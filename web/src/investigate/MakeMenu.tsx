import { Menu } from "@mantine/core";
import { Link } from "react-router";
import { alertRuleFrom } from "../alerts/api";
import { queryOf } from "../cards/api";
import { PutOnBoard } from "../cards/PutOnBoard";
import { useCurrentCase } from "../cases/current";
import { ruleFrom } from "../logbook/api";
import { noiseFrom } from "../rules/api";
import { asked, type Question, wholeFind, write } from "../shared/question";
import { useBarred } from "../shared/session";
import classes from "./Investigate.module.css";

/** What can be made of the question beside looking at it. */
export function MakeMenu({ question }: { question: Question }) {
	const find = wholeFind(question);
	const { pin } = useCurrentCase();
	const barred = useBarred("POST /api/alert-rules/trial");
	const lanes = question.lanes !== "";
	return (
		<PutOnBoard
			query={queryOf({ ...question, measure: "" }, question.lanes)}
			drawing={lanes ? "lanes" : "rail"}
			title={find || (lanes ? "Lanes" : "All lines")}
			opener={(put, barredFromBoards) => (
				<Menu position="bottom-end">
					<Menu.Target>
						<button type="button" className={classes.tool}>
							make ▾
						</button>
					</Menu.Target>
					<Menu.Dropdown>
						<Menu.Item component={Link} to={alertRuleFrom(find)} {...barred}>
							Alert rule
						</Menu.Item>
						<Menu.Item component={Link} to={noiseFrom(find)}>
							a noise rule from this question
						</Menu.Item>
						<Menu.Item component={Link} to={ruleFrom(find)}>
							a rule for the logbook
						</Menu.Item>
						<Menu.Item
							onClick={() =>
								pin(
									{
										kind: "chart",
										text: find || "all lines",
										query: write(question).toString(),
										asked: asked(question),
									},
									find,
								)
							}
						>
							a chart of it in the case
						</Menu.Item>
						<Menu.Item onClick={put} {...barredFromBoards}>
							Put {lanes ? "the lanes" : "the rail"} on a board
						</Menu.Item>
						<Menu.Item component={Link} to={`/intake/relays?${new URLSearchParams({ find })}`}>
							send such lines on from now on
						</Menu.Item>
					</Menu.Dropdown>
				</Menu>
			)}
		/>
	);
}
