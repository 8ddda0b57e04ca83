import { ActionIcon, Button, TextInput, Tooltip } from "@mantine/core";
import { IconColumnInsertRight, IconEqualNot, IconLayoutBoard, IconRuler2 } from "@tabler/icons-react";
import { useState } from "react";
import type { FieldStats, Fields } from "../api/types";
import { queryOf } from "../cards/api";
import { PutOnBoard } from "../cards/PutOnBoard";
import { comparedName } from "../shared/compared";
import { quantity } from "../shared/quantity";
import { askedAgainst, differs, equals, has, field as named, type ViewProps } from "../shared/question";
import { number } from "../shared/time";
import { useZone } from "../shared/zone";
import { Change } from "../surveys/Changes";
import survey from "../surveys/Survey.module.css";
import { SurveyHead } from "../surveys/SurveyHead";
import { useSurvey } from "../surveys/useSurvey";
import classes from "./FieldList.module.css";
import { NumberBins } from "./NumberBins";

const SHOWN = 5;
const NUMERIC = ["number", "duration", "size", "share"];

function share(part: number, whole: number): string {
	const percent = (100 * part) / Math.max(whole, 1);
	if (part < whole && percent > 99.9) return "> 99.9 %";
	return percent >= 10 || percent === 0 ? `${Math.round(percent)} %` : `${percent.toPrecision(1)} %`;
}

interface FieldProps extends ViewProps {
	field: FieldStats;
	total: number;
}

function Field({ field, total, question, change, onChip }: FieldProps) {
	const [all, setAll] = useState(false);
	const most = Math.max(...field.values.map((value) => Math.max(value.count, value.expected ?? 0)), 1);
	const numeric = NUMERIC.includes(field.type) && field.numbers !== null;
	// Of numbers that hardly repeat, only their distribution says something.
	const shown = numeric && field.distinct > 50 && !all ? [] : field.values.slice(0, all ? undefined : SHOWN);
	const column = question.columns.includes(field.name);
	return (
		<li className={classes.field} data-field={field.name}>
			<div className={classes.about}>
				<button
					type="button"
					className={classes.name}
					title={`only lines that have ${field.name}`}
					onClick={() => onChip(has(field.name))}
				>
					{field.name}
				</button>
				<span className={classes.facts}>
					{field.type} · in {share(field.count, total)} of the lines
				</span>
				<span className={classes.facts}>
					{field.cut && "more than "}
					{number(field.distinct)} {field.distinct === 1 ? "value" : "values"}
				</span>
				<span className={classes.actions}>
					<Tooltip label={column ? "no column any more" : "as a column"} openDelay={300}>
						<ActionIcon
							size="sm"
							variant={column ? "light" : "subtle"}
							aria-label={`${field.name} as a column`}
							aria-pressed={column}
							onClick={() =>
								change({
									columns: column
										? question.columns.filter((other) => other !== field.name)
										: [...question.columns, field.name],
								})
							}
						>
							<IconColumnInsertRight size={14} />
						</ActionIcon>
					</Tooltip>
					<Tooltip label="measure it" openDelay={300}>
						<ActionIcon
							size="sm"
							variant="subtle"
							aria-label={`measure ${field.name}`}
							onClick={() =>
								change({
									view: "measure",
									measure: numeric ? `p95(${field.name}) per auto` : `count by ${field.name} per auto`,
								})
							}
						>
							<IconRuler2 size={14} />
						</ActionIcon>
					</Tooltip>
					<PutOnBoard
						query={queryOf({
							...question,
							measure: numeric ? `p95(${named(field.name)}) per auto` : `count by ${named(field.name)} top 10`,
						})}
						drawing={numeric ? "line" : "table"}
						title={field.name}
						opener={(open, barred) => (
							<Tooltip label="Put on a board" openDelay={300}>
								<ActionIcon
									size="sm"
									variant="subtle"
									aria-label={`put ${field.name} on a board`}
									onClick={open}
									{...barred}
								>
									<IconLayoutBoard size={14} />
								</ActionIcon>
							</Tooltip>
						)}
					/>
				</span>
			</div>
			<ul className={classes.values} aria-label={`values of ${field.name}`}>
				{shown.map((value) => (
					<li key={value.value} className={classes.value}>
						<span className={classes.count}>{number(value.count)}</span>
						<span className={classes.bar} aria-hidden>
							<i style={{ width: `${(100 * value.count) / most}%` }} />
							{value.expected !== null && <b style={{ left: `${(100 * value.expected) / most}%` }} />}
						</span>
						<button
							type="button"
							className={classes.text}
							title={`only ${field.name} = ${value.value}`}
							onClick={() => onChip(equals(field.name, value.value))}
						>
							{value.value || "(empty)"}
						</button>
						{value.change && <Change row={value} />}
						<ActionIcon
							size="xs"
							variant="subtle"
							aria-label={`not ${field.name} = ${value.value}`}
							onClick={() => onChip(differs(field.name, value.value))}
						>
							<IconEqualNot size={12} />
						</ActionIcon>
					</li>
				))}
				{(field.values.length > shown.length || all) && (
					<li>
						<button type="button" className={classes.more} onClick={() => setAll((now) => !now)}>
							{all
								? "fewer"
								: shown.length
									? `${number(Math.min(field.values.length, field.distinct) - shown.length)} more of ${number(field.distinct)}`
									: "commonest values"}
						</button>
					</li>
				)}
			</ul>
			{numeric && field.numbers && (
				<div className={classes.numbers}>
					<NumberBins
						numbers={field.numbers}
						onRange={(low, high) => {
							const unit = field.numbers?.unit && field.numbers.unit !== "%" ? field.numbers.unit : "";
							change({
								chips: [...question.chips, `${field.name} >= ${low}${unit}`, `${field.name} < ${high}${unit}`],
							});
						}}
					/>
					<dl>
						{(["min", "median", "p95", "max"] as const).map((name) => (
							<div key={name}>
								<dt>{name}</dt>
								<dd>{quantity(field.numbers?.[name] ?? null, field.numbers?.unit ?? null)}</dd>
							</div>
						))}
					</dl>
				</div>
			)}
		</li>
	);
}

/** The fields of the question's lines, those first whose values stand out. */
export function FieldList(props: ViewProps) {
	const { zone } = useZone();
	const { question } = props;
	const [wanted, setWanted] = useState("");
	const fields = useSurvey<Fields>("/api/fields", askedAgainst(question));
	const rows = (fields.answer?.fields ?? []).filter((field) => field.name.includes(wanted.trim().toLowerCase()));
	const { total = 0, set_against: against = 0 } = fields.answer ?? {};
	return (
		<div className={survey.view} aria-busy={fields.old}>
			<SurveyHead
				survey={fields}
				tools={
					<TextInput
						size="xs"
						placeholder="name of a field"
						aria-label="name of a field"
						value={wanted}
						onChange={(event) => setWanted(event.currentTarget.value)}
					/>
				}
			>
				<b data-fields={fields.answer?.fields.length}>{number(fields.answer?.fields.length ?? 0)}</b>
				{` fields in ${number(total)} lines; `}
				{question.compared
					? `those first that differ most from ${comparedName(question.compared, zone)}`
					: against > 0
						? `those first that differ most from the rest of the window (${number(against)} lines of it, in pieces taken at random)`
						: "the commonest first"}
			</SurveyHead>
			<ul className={classes.list} aria-label="Fields">
				{rows.map((field) => (
					<Field key={field.name} field={field} total={total} {...props} />
				))}
			</ul>
			{fields.answer && rows.length === 0 && (
				<p className={classes.none}>
					{wanted ? "No field has this in its name." : "The lines have no fields."}{" "}
					{wanted && (
						<Button variant="subtle" size="compact-sm" onClick={() => setWanted("")}>
							Show all
						</Button>
					)}
				</p>
			)}
		</div>
	);
}
