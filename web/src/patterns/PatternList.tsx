import { Button, Loader, Select } from "@mantine/core";
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { get } from "../api/client";
import type { Pattern, Patterns } from "../api/types";
import { asked, type Compared, type Question } from "../investigate/question";
import { SeverityTicks, severityColor, severityName } from "../shared/severity";
import { clock, number } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./PatternList.module.css";

/** What a window is compared with, as the sentence says it. */
export const COMPARISONS: Record<Compared, string> = {
	"": "nothing",
	before: "the window before",
	day: "the day before",
	week: "the week before",
	month: "four weeks before",
};

type Order = "surprise" | "onset" | "count" | "severity" | "newness";
const ORDERS: Record<Order, string> = {
	surprise: "most surprising first",
	onset: "changes, earliest first",
	count: "commonest first",
	severity: "worst first",
	newness: "latest to appear first",
};

/** Orders that ask what has changed. */
const COMPARED_ORDERS: string[] = ["surprise", "onset"];

function worst(pattern: Pattern): number {
	const code = pattern.severities.findIndex((n) => n > 0);
	return code === -1 ? 8 : code;
}

function unchanged(pattern: Pattern): number {
	return pattern.change === "new" || pattern.change === "more" ? 0 : 1;
}

const BY: Record<Order, (one: Pattern, other: Pattern) => number> = {
	// The server has them in this order.
	surprise: () => 0,
	// What led to what.
	onset: (one, other) => unchanged(one) - unchanged(other) || (one.first_us ?? 0) - (other.first_us ?? 0),
	count: (one, other) => other.count - one.count,
	severity: (one, other) => worst(one) - worst(other) || other.count - one.count,
	newness: (one, other) => (other.first_us ?? 0) - (one.first_us ?? 0),
};

function Words({ text }: { text: string }) {
	const parts = text.split("…");
	return (
		<>
			{parts.map((part, index) => (
				<span key={index}>
					{index > 0 && <span className={classes.open}>…</span>}
					{part}
				</span>
			))}
		</>
	);
}

function Steps({ pattern }: { pattern: Pattern }) {
	const most = Math.max(...pattern.steps, 1);
	const width = 96 / pattern.steps.length;
	return (
		<svg className={classes.steps} viewBox="0 0 96 18" width="96" height="18" role="img" aria-label="lines over time">
			{pattern.steps.map((n, step) => {
				const height = n ? Math.max((16 * n) / most, 1.5) : 0;
				return (
					<rect
						key={step}
						x={step * width}
						y={18 - height}
						width={width - 0.6}
						height={height}
						fill={severityColor(worst(pattern))}
					/>
				);
			})}
		</svg>
	);
}

function times(pattern: Pattern): string {
	const { count, expected, change, first_time } = pattern;
	if (change === "new" && first_time) return "first time";
	if (change === "new" || change === "gone") return change;
	if (change === "same" || !expected) return "as before";
	const ratio = count > expected ? count / expected : expected / count;
	return `${ratio < 10 ? ratio.toFixed(1) : number(Math.round(ratio))}× ${change}`;
}

interface Props {
	question: Question;
	onOnly: (pattern: string) => void;
	onNot: (pattern: string) => void;
}

/** The lines of the question condensed to patterns, with what changed against another window. */
export function PatternList({ question, onOnly, onNot }: Props) {
	const { zone } = useZone();
	const queries = useQueryClient();
	const [chosen, setOrder] = useState<Order | null>(null);
	const params = asked(question);
	if (question.compared) params.set("with", question.compared);
	const table = useQuery({
		queryKey: ["patterns", params.toString()],
		queryFn: ({ signal }) => get<Patterns>("/api/patterns", params, signal),
		placeholderData: keepPreviousData,
	});
	const offered = chosen !== null && (question.compared || !COMPARED_ORDERS.includes(chosen));
	const order = offered ? chosen : question.compared ? "surprise" : "count";
	const rows = useMemo(() => [...(table.data?.patterns ?? [])].sort(BY[order]), [table.data, order]);
	if (table.error) return <p className={classes.said}>{table.error.message}</p>;
	if (!table.data)
		return (
			<p className={classes.said} role="status">
				<Loader size="xs" /> Condensing{" "}
				<Button
					variant="subtle"
					size="compact-xs"
					onClick={() => void queries.cancelQueries({ queryKey: ["patterns"] })}
				>
					Stop
				</Button>
			</p>
		);

	const { changes, total, found } = table.data;
	const told = (["new", "gone", "more", "less"] as const).filter((change) => changes[change]);
	return (
		<div className={classes.view} aria-busy={table.isPlaceholderData}>
			<div className={classes.head}>
				<p className={classes.said} data-patterns={found}>
					<b>{number(found)}</b> {found === 1 ? "pattern" : "patterns"} in {number(total)} lines
					{question.compared && (
						<>
							{"; against "}
							{COMPARISONS[question.compared]}{" "}
							{told.length ? (
								told.map((change) => (
									<span key={change} className={classes.change} data-change={change}>
										{number(changes[change] ?? 0)} {change}
									</span>
								))
							) : (
								<span className={classes.change}>nothing changed</span>
							)}
						</>
					)}
					{found > rows.length && `; the first ${number(rows.length)} are shown`}
				</p>
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
			</div>
			<ul className={classes.list} aria-label="Patterns">
				{rows.map((pattern) => (
					<li
						key={pattern.name}
						className={classes.row}
						data-pattern={pattern.name}
						data-change={pattern.change ?? undefined}
					>
						<span className={classes.count}>{number(pattern.count)}</span>
						<SeverityTicks code={worst(pattern)} />
						<Steps pattern={pattern} />
						{question.compared && (
							<span className={classes.change} data-change={pattern.change ?? undefined}>
								{times(pattern)}
							</span>
						)}
						<button
							type="button"
							className={classes.text}
							title={`${pattern.name}, ${severityName(worst(pattern))}: its lines`}
							onClick={() => onOnly(pattern.name)}
						>
							<Words text={pattern.text || "(empty)"} />
						</button>
						<span className={classes.machines} title={pattern.machines.join(", ")}>
							{pattern.machines.length === 1 ? pattern.machines[0] : `${pattern.machines.length} machines`}
						</span>
						<span className={classes.seen}>
							{pattern.first_us !== null && `${clock(pattern.first_us, zone)} – ${clock(pattern.last_us ?? 0, zone)}`}
						</span>
						<Button
							variant="subtle"
							size="compact-xs"
							onClick={() => onNot(pattern.name)}
							aria-label={`without ${pattern.name}`}
						>
							not
						</Button>
					</li>
				))}
			</ul>
		</div>
	);
}
