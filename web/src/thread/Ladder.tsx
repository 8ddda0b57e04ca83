import { Select } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, asking } from "../api/client";
import type { Line, LineDetail } from "../api/types";
import { type Change, equals, type Question, quote } from "../shared/question";
import { SeverityTicks, severityColor } from "../shared/severity";
import { clockExact, duration, number } from "../shared/time";
import { useZone } from "../shared/zone";
import { shifts, useClocks, wrong } from "../surveys/clocks";
import classes from "./Thread.module.css";
import { TrueTimeSwitch } from "./TrueTimeSwitch";

const REACH = [
	{ value: "600", label: "± 10 min" },
	{ value: "3600", label: "± 1 hour" },
	{ value: "86400", label: "± 1 day" },
	{ value: "", label: "all time" },
];
const MOST = 500;
const RUNG = 84;
const HEIGHT = 22;

/** A number of one machine alone is another on the next; an identifier may stand in a text that has no such field. */
function conditions(line: LineDetail, field: string): string[] {
	const value = String(line.fields[field]);
	if (field === "process.pid")
		return [equals(field, value), ...(line.machine ? [equals("host.name", line.machine)] : [])];
	return /^user\./.test(field) || value.length < 6 ? [equals(field, value)] : [quote(value)];
}

function Rung({
	line,
	before,
	last,
	machines,
}: {
	line: Line;
	before: Line | undefined;
	last: boolean;
	machines: string[];
}) {
	const x = (machine: string | null) => machines.indexOf(machine ?? "") * RUNG + RUNG / 2;
	const here = x(line.machine);
	return (
		<svg width={machines.length * RUNG} height={HEIGHT} aria-hidden className={classes.rung}>
			{machines.map((machine) => (
				<line key={machine} x1={x(machine)} x2={x(machine)} y1={0} y2={HEIGHT} stroke="var(--rule)" />
			))}
			{before && (
				<path
					d={`M${x(before.machine)} 0 L${here} ${HEIGHT / 2}`}
					stroke="var(--primary)"
					strokeWidth={1.5}
					fill="none"
				/>
			)}
			{!last && <path d={`M${here} ${HEIGHT / 2} V${HEIGHT}`} stroke="var(--primary)" strokeWidth={1.5} />}
			<circle cx={here} cy={HEIGHT / 2} r={4.5} fill={severityColor(line.severity)} stroke="var(--sheet)" />
		</svg>
	);
}

interface Props {
	line: LineDetail;
	field: string;
	question: Question;
	change: Change;
	onChoose: (id: string) => void;
}

/** The same request, session or user across machines, in the order of time. */
export function Ladder({ line, field, question, change, onChoose }: Props) {
	const { zone } = useZone();
	const [reach, setReach] = useState("3600");
	const clocks = useClocks(question, question.trueTime);
	const off = question.trueTime ? wrong(clocks.answer?.clocks) : [];
	const params = new URLSearchParams();
	const chips = conditions(line, field);
	for (const chip of chips) params.append("chip[]", chip);
	for (const shift of shifts(off)) params.append("shift[]", shift);
	if (reach) {
		params.set("from", String(line.time_us - Number(reach) * 1_000_000));
		params.set("to", String(line.time_us + Number(reach) * 1_000_000));
	}
	params.set("limit", String(MOST));
	const { data, error } = useQuery({
		queryKey: ["ladder", params.toString()],
		queryFn: ({ signal }) => answer(api.GET("/api/lines", { ...asking(params), signal })),
		placeholderData: (before) => before,
	});
	const lines = data?.lines ?? [];
	const machines = [...new Set(lines.map((one) => one.machine ?? ""))];
	const [first, last] = [lines[0], lines.at(-1)];
	return (
		<>
			<div className={classes.tools}>
				<Select
					size="xs"
					w={120}
					aria-label="how far"
					data={REACH}
					value={reach}
					onChange={(next) => setReach(next ?? "")}
				/>
				<TrueTimeSwitch question={question} />
				{first && last && (
					<span data-ladder={lines.length}>
						{number(lines.length)} lines on {machines.length} {machines.length === 1 ? "machine" : "machines"} in{" "}
						{duration(last.true_us - first.true_us)}
						{data?.more_after && `; there are more, the first ${MOST} are shown`}
					</span>
				)}
				<button
					type="button"
					className={classes.link}
					onClick={() => change({ thread: "", find: "", chips, hidden: [], view: "lines" })}
				>
					as the question
				</button>
			</div>
			{error && <p>{error.message}</p>}
			<div className={classes.ladder}>
				<div className={classes.heads} style={{ paddingLeft: 278 }}>
					{machines.map((machine) => (
						<span key={machine} style={{ width: RUNG }} title={machine}>
							{machine || "no machine"}
						</span>
					))}
				</div>
				<ul className={classes.rows}>
					{lines.map((one, index) => (
						<li key={one.id} className={classes.row} aria-current={one.id === line.id ? "true" : undefined}>
							<SeverityTicks code={one.severity} />
							<time>{clockExact(one.true_us, zone)}</time>
							<span className={classes.later}>
								{first && index > 0 ? `+${duration(one.true_us - first.true_us)}` : ""}
							</span>
							<Rung line={one} before={lines[index - 1]} last={index === lines.length - 1} machines={machines} />
							<button type="button" className={classes.text} onClick={() => onChoose(one.id)}>
								{one.message.split("\n", 1)[0] || "(empty)"}
							</button>
						</li>
					))}
				</ul>
			</div>
		</>
	);
}
