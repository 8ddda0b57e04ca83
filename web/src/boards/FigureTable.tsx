import { Link } from "react-router";
import type { Group } from "../api/types";
import { allGroups, groupName } from "../measure/groups";
import { quantity } from "../shared/quantity";
import type { Question } from "../shared/question";
import { day, stepName } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Boards.module.css";
import { linesOfMark, type Measured, markOf } from "./links";

interface Props {
	measured: Measured;
	question: Question;
}

/** The figures that a chart draws: steps of time downward, groups beside each other; each leads to its lines. */
export function FigureTable({ measured, question }: Props) {
	const { zone } = useZone();
	const groups = allGroups(measured);
	const { start_us: start, step_us: step } = measured;
	const timed = start !== null && step !== null;
	const steps = [...new Set(groups.flatMap((group) => group.steps.map(([at]) => at)))].sort((a, b) => a - b);
	const cell = (group: Group, value: number | null | undefined, at?: number) => (
		<td key={groupName(group)} className={classes.figure} data-mark={markOf(measured, value)}>
			{value != null && (
				<Link
					to={linesOfMark(
						question,
						measured,
						group,
						at !== undefined && timed ? { from: start + at * step, to: start + (at + 1) * step } : undefined,
					)}
				>
					{quantity(value, measured.unit)}
				</Link>
			)}
		</td>
	);
	return (
		<table className={classes.figures}>
			<thead>
				<tr>
					<th scope="col">{timed ? zone : ""}</th>
					{groups.map((group) => (
						<th key={groupName(group)} scope="col">
							{groupName(group)}
						</th>
					))}
				</tr>
			</thead>
			<tbody>
				{timed &&
					steps.map((at) => (
						<tr key={at}>
							<th scope="row">
								{day(start + at * step, zone)} {stepName(start + at * step, step, zone)}
							</th>
							{groups.map((group) => cell(group, new Map(group.steps as [number, number][]).get(at), at))}
						</tr>
					))}
				<tr>
					<th scope="row">all</th>
					{groups.map((group) => cell(group, group.value))}
				</tr>
			</tbody>
		</table>
	);
}
