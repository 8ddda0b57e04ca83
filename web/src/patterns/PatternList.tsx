import { Button, Select } from "@mantine/core";
import { Fragment, useMemo, useState } from "react";
import { Link } from "react-router";
import type { Patterns } from "../api/types";
import { queryOf } from "../cards/api";
import { PutOnBoard } from "../cards/PutOnBoard";
import { PinButton } from "../cases/PinButton";
import { RemedyMark } from "../cases/Remedies";
import { noiseFrom } from "../rules/api";
import { comparedName } from "../shared/compared";
import { Steps, Words, worst } from "../shared/PatternText";
import { asked, askedAgainst, differs, equals, type Question, type ViewProps, withChip } from "../shared/question";
import { SeverityTicks, severityName } from "../shared/severity";
import { clock, number } from "../shared/time";
import { useZone } from "../shared/zone";
import { Change, Tally } from "../surveys/Changes";
import survey from "../surveys/Survey.module.css";
import { SurveyHead } from "../surveys/SurveyHead";
import { useSurvey } from "../surveys/useSurvey";
import { BY, COMPARED_ORDERS, ORDERS, type Order } from "./orders";
import { PatternDetails } from "./PatternDetails";
import classes from "./PatternList.module.css";

function toggled(set: ReadonlySet<string>, name: string): ReadonlySet<string> {
	const next = new Set(set);
	if (!next.delete(name)) next.add(name);
	return next;
}

/** What changed before the first line of a pattern in the window. */
function causesOf(question: Question, pattern: string): URLSearchParams {
	const params = asked(question);
	params.set("pattern", pattern);
	return params;
}

/** The lines of the question condensed to patterns, with what changed against another window. */
export function PatternList({ question, change, onChip }: ViewProps) {
	const { zone } = useZone();
	const [chosen, setOrder] = useState<Order | null>(null);
	const [opened, setOpened] = useState<string | null>(null);
	const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set());
	const table = useSurvey<Patterns>("/api/patterns", askedAgainst(question));
	const offered = chosen !== null && (question.compared || !COMPARED_ORDERS.includes(chosen));
	const order = offered ? chosen : question.compared ? "surprise" : "count";
	const rows = useMemo(() => [...(table.answer?.patterns ?? [])].sort(BY[order]), [table.answer, order]);
	const { found = 0, total = 0, changes = {} } = table.answer ?? {};
	const onOnly = (pattern: string) =>
		change({ chips: withChip(question.chips, equals("pattern", pattern)), view: "lines" });
	const onNot = (pattern: string) => onChip(differs("pattern", pattern));
	return (
		<div className={survey.view} aria-busy={table.old}>
			<SurveyHead
				survey={table}
				tools={
					<>
						<PutOnBoard
							query={queryOf({ ...question, measure: "" })}
							drawing="patterns"
							title={question.find ? `Patterns of ${question.find}` : "Patterns"}
						/>
						<Select
							size="xs"
							aria-label="Order of the patterns"
							data={Object.entries(ORDERS)
								.filter(([value]) => question.compared || !COMPARED_ORDERS.includes(value))
								.map(([value, label]) => ({ value, label }))}
							value={order}
							onChange={(value) => setOrder(value as Order)}
							allowDeselect={false}
						/>
					</>
				}
			>
				<span data-patterns={found}>
					<b>{number(found)}</b> {found === 1 ? "pattern" : "patterns"} in {number(total)} lines
				</span>
				{question.compared && <Tally changes={changes} name={comparedName(question.compared, zone)} />}
				{found > rows.length && `; the first ${number(rows.length)} are shown`}
			</SurveyHead>
			<ul className={classes.list} aria-label="Patterns">
				{rows
					.filter((pattern) => order !== "surprise" || !pattern.with || unfolded.has(pattern.with))
					.map((pattern) => {
						const joined = order === "surprise" ? rows.filter((other) => other.with === pattern.name) : [];
						const worstOfAll = Math.min(...[pattern, ...joined].map(worst));
						return (
							<Fragment key={pattern.name}>
								<li
									className={classes.row}
									data-pattern={pattern.name}
									data-change={pattern.change ?? undefined}
									data-joined={order === "surprise" && pattern.with ? "" : undefined}
								>
									<button
										type="button"
										className={classes.count}
										aria-expanded={opened === pattern.name}
										title={`${((100 * pattern.count) / Math.max(total, 1)).toPrecision(2)} % of the lines; open ${pattern.name}`}
										onClick={() => setOpened((now) => (now === pattern.name ? null : pattern.name))}
									>
										<span aria-hidden>{opened === pattern.name ? "▾" : "▸"}</span> {number(pattern.count)}
									</button>
									<SeverityTicks code={worstOfAll} />
									<Steps pattern={pattern} />
									{question.compared && <Change row={pattern} firstTime={pattern.first_time ?? false} />}
									<button
										type="button"
										className={classes.text}
										title={`${pattern.name}, ${severityName(worst(pattern))}: its lines`}
										onClick={() => onOnly(pattern.name)}
									>
										<Words text={pattern.text || "(empty)"} />
									</button>
									<RemedyMark
										remedies={(unfolded.has(pattern.name) ? [pattern] : [pattern, ...joined]).flatMap(
											(one) => one.remedies,
										)}
									/>
									{joined.length > 0 && (
										<button
											type="button"
											className={classes.joined}
											aria-expanded={unfolded.has(pattern.name)}
											title="patterns that come at the same time as this one, which was the first of them"
											onClick={() => setUnfolded((now) => toggled(now, pattern.name))}
										>
											{unfolded.has(pattern.name) ? "fold" : `and ${joined.length} with it`}
										</button>
									)}
									<span className={classes.machines} title={pattern.machines.join(", ")}>
										{pattern.machines.length === 1 ? pattern.machines[0] : `${pattern.machines.length} machines`}
									</span>
									<span className={classes.seen}>
										{pattern.first_us !== null &&
											`${clock(pattern.first_us, zone)} – ${clock(pattern.last_us ?? 0, zone)}`}
									</span>
									<Button
										variant="subtle"
										size="compact-xs"
										onClick={() => onNot(pattern.name)}
										aria-label={`not ${pattern.name}`}
									>
										not
									</Button>
									<Button
										variant="subtle"
										size="compact-xs"
										component={Link}
										to={noiseFrom(equals("pattern", pattern.name))}
										aria-label={`noise rule from ${pattern.name}`}
									>
										noise
									</Button>
									<PinButton
										compact
										what={{ kind: "pattern", pattern: pattern.name, asked: asked(question) }}
										title={pattern.text.slice(0, 80)}
									/>
									<Button
										variant="subtle"
										size="compact-xs"
										component={Link}
										to={`/causes?${causesOf(question, pattern.name)}`}
										aria-label={`why ${pattern.name}: what changed before it`}
									>
										why
									</Button>
								</li>
								{opened === pattern.name && (
									<li>
										<PatternDetails pattern={pattern} question={question} change={change} onChip={onChip} />
									</li>
								)}
							</Fragment>
						);
					})}
			</ul>
		</div>
	);
}
