import { ActionIcon, MultiSelect, NumberInput, Select } from "@mantine/core";
import { IconEqualNot } from "@tabler/icons-react";
import { useEffect, useRef, useState } from "react";
import { Problem } from "../api/client";
import type { Group, Measurement, Status } from "../api/types";
import { queryOf } from "../cards/api";
import { PutOnBoard } from "../cards/PutOnBoard";
import { quantity } from "../shared/quantity";
import { asked, differs, type ViewProps } from "../shared/question";
import { number, utcOffset } from "../shared/time";
import { useZone } from "../shared/zone";
import survey from "../surveys/Survey.module.css";
import { SurveyHead } from "../surveys/SurveyHead";
import { useSurvey } from "../surveys/useSurvey";
import { AGGREGATES, type Clause, parse, STEPS, write } from "./clause";
import { conditions, groupColor, groupName } from "./groups";
import classes from "./Measure.module.css";
import { FORMS, type Form, MeasureChart } from "./MeasureChart";

function defaultForm(measurement: Measurement | undefined): Form {
	if (!measurement) return "bars";
	if (measurement.step_us === null) return measurement.by.length ? "bars" : "number";
	return measurement.aggregate === "count" || measurement.aggregate === "sum" ? "stacked" : "line";
}

function Builder({
	clause,
	fields,
	onClause,
}: {
	clause: Clause;
	fields: string[];
	onClause: (clause: Clause) => void;
}) {
	const groupable = ["host.name", "service.name", "severity", "pattern", ...fields].filter(
		(name, index, all) => all.indexOf(name) === index,
	);
	return (
		<div className={classes.builder}>
			<Select
				size="xs"
				w={96}
				aria-label="what"
				data={AGGREGATES}
				value={clause.aggregate}
				allowDeselect={false}
				onChange={(aggregate) =>
					aggregate &&
					onClause({
						...clause,
						aggregate,
						field: aggregate === "count" ? null : (clause.field ?? fields[0] ?? "message"),
					})
				}
			/>
			{clause.aggregate !== "count" && (
				<Select
					size="xs"
					w={190}
					aria-label="of the field"
					data={fields}
					value={clause.field}
					searchable
					onChange={(field) => field && onClause({ ...clause, field })}
				/>
			)}
			<span>by</span>
			<MultiSelect
				size="xs"
				miw={170}
				aria-label="by"
				placeholder={clause.by.length ? "" : "nothing"}
				data={groupable}
				value={clause.by}
				maxValues={2}
				searchable
				clearable
				onChange={(by) => onClause({ ...clause, by })}
			/>
			<span>per</span>
			<Select
				size="xs"
				w={110}
				aria-label="per"
				data={STEPS.includes(clause.per) ? STEPS : [...STEPS, clause.per]}
				value={clause.per}
				allowDeselect={false}
				onChange={(per) => per !== null && onClause({ ...clause, per })}
			/>
			<span>top</span>
			<NumberInput
				size="xs"
				w={64}
				aria-label="top"
				min={1}
				max={100}
				value={clause.top}
				onChange={(top) => typeof top === "number" && top >= 1 && onClause({ ...clause, top })}
			/>
		</div>
	);
}

interface Props extends ViewProps {
	status: Status;
	onMistake: (mistake: Problem | null) => void;
}

/** What is measured over the lines, as a table and drawn. */
export function MeasureView({ question, change, onChip, status, onMistake }: Props) {
	const { zone } = useZone();
	const [chosen, setForm] = useState<Form | null>(null);
	const params = asked(question);
	if (question.measure) params.set("measure", question.measure);
	params.set("utc_offset", String(utcOffset(question.fromUs ?? status.first_us, zone)));
	const measured = useSurvey<Measurement>("/api/measurements", params);
	const answer = measured.answer;
	const form = chosen ?? defaultForm(answer);
	const told = useRef(onMistake);
	told.current = onMistake;
	const mistake = measured.error instanceof Problem && measured.error.details.column ? measured.error : null;
	useEffect(() => {
		told.current(mistake);
		return () => told.current(null);
	}, [mistake]);

	const narrow = (group: Group) => {
		if (answer && group.by) change({ chips: [...new Set([...question.chips, ...conditions(answer, group)])] });
	};
	const rows = answer ? [...answer.groups, ...(answer.other ? [answer.other] : [])] : [];
	return (
		<div className={survey.view} aria-busy={measured.old}>
			<Builder
				clause={parse(question.measure)}
				fields={status.fields}
				onClause={(clause) => {
					setForm(null);
					change({ measure: write(clause) });
				}}
			/>
			<SurveyHead
				survey={mistake ? { ...measured, error: null } : measured}
				tools={
					<>
						<PutOnBoard
							query={queryOf(question)}
							drawing={form === "pie" ? "share" : form}
							title={question.find || question.measure || "Lines"}
						/>
						<Select
							size="xs"
							w={130}
							aria-label="drawn as"
							data={Object.entries(FORMS).map(([value, label]) => ({ value, label }))}
							value={form}
							allowDeselect={false}
							onChange={(next) => setForm(next as Form)}
						/>
					</>
				}
			>
				<b data-measured={answer?.whole.value ?? ""}>{quantity(answer?.whole.value ?? null, answer?.unit ?? null)}</b>
				{` over ${number(answer?.total ?? 0)} lines`}
				{answer?.field &&
					answer.measured < answer.total &&
					`; ${number(answer.total - answer.measured)} of them have no ${answer.field} to measure`}
				{answer &&
					answer.found > answer.groups.length &&
					`; the first ${answer.groups.length} of ${number(answer.found)} groups, the rest as “other”`}
			</SurveyHead>
			{answer && (
				<div className={classes.both}>
					<div className={classes.drawn}>
						<MeasureChart
							measurement={answer}
							form={form}
							height={form === "number" ? 160 : 300}
							onWindow={(fromUs, toUs) => change({ fromUs, toUs })}
							onGroup={narrow}
						/>
					</div>
					{answer.by.length > 0 && (
						<table className={classes.table}>
							<thead>
								<tr>
									<th />
									{answer.by.map((field) => (
										<th key={field}>{field}</th>
									))}
									<th className={classes.number}>{question.measure.split(/ (by|per|top) /)[0] || "count"}</th>
									<th />
								</tr>
							</thead>
							<tbody>
								{rows.map((group, index) => (
									<tr key={groupName(group)} data-group={groupName(group)}>
										<td>
											<i className={classes.swatch} style={{ background: groupColor(group, index) }} />
										</td>
										{group.by === null ? (
											<td colSpan={answer.by.length}>other</td>
										) : (
											group.by.map((value, place) => (
												<td key={answer.by[place]}>
													<button
														type="button"
														className="plain"
														onClick={() => narrow(group)}
														title="only these lines"
													>
														{value ?? "(none)"}
													</button>
												</td>
											))
										)}
										<td className={classes.number}>{quantity(group.value, answer.unit)}</td>
										<td>
											{group.by?.length === 1 && group.by[0] !== null && (
												<ActionIcon
													size="xs"
													variant="subtle"
													aria-label={`without ${groupName(group)}`}
													onClick={() => onChip(differs(answer.by[0] ?? "", group.by?.[0] ?? ""))}
												>
													<IconEqualNot size={12} />
												</ActionIcon>
											)}
										</td>
									</tr>
								))}
							</tbody>
						</table>
					)}
				</div>
			)}
		</div>
	);
}
