import { SegmentedControl, Select } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, asking } from "../api/client";
import type { Line, LineDetail } from "../api/types";
import { equals, type Question } from "../shared/question";
import { SeverityTicks } from "../shared/severity";
import { clockExact, number } from "../shared/time";
import { useZone } from "../shared/zone";
import { shifts, useClocks, wrong } from "../surveys/clocks";
import classes from "./Thread.module.css";
import { TrueTimeSwitch } from "./TrueTimeSwitch";

const REACH = [
	{ value: "n20", label: "20 lines" },
	{ value: "n100", label: "100 lines" },
	{ value: "s1", label: "± 1 s" },
	{ value: "s10", label: "± 10 s" },
	{ value: "s60", label: "± 1 min" },
	{ value: "s600", label: "± 10 min" },
];
const MOST = 1000;

export function Rows({ lines, chosen, onChoose }: { lines: Line[]; chosen: string; onChoose: (id: string) => void }) {
	const { zone } = useZone();
	return (
		<ul className={classes.rows}>
			{lines.map((line) => (
				<li key={line.id} className={classes.row} aria-current={line.id === chosen ? "true" : undefined}>
					<SeverityTicks code={line.severity} />
					<time>{clockExact(line.true_us, zone)}</time>
					<span className={classes.machine}>{line.machine}</span>
					<button type="button" className={classes.text} onClick={() => onChoose(line.id)}>
						{line.message.split("\n", 1)[0] || "(empty)"}
					</button>
				</li>
			))}
		</ul>
	);
}

/** What stood around a line, of the same machine, the same service, or all. */
export function Nearby({
	line,
	question,
	onChoose,
}: {
	line: LineDetail;
	question: Question;
	onChoose: (id: string) => void;
}) {
	const [among, setAmong] = useState("all");
	const [reach, setReach] = useState("n20");
	const clocks = useClocks(question, question.trueTime);
	const off = question.trueTime ? wrong(clocks.answer?.clocks) : [];
	const params = new URLSearchParams();
	const size = Number(reach.slice(1));
	if (among === "machine" && line.machine) params.append("chip[]", equals("host.name", line.machine));
	if (among === "service" && line.service) params.append("chip[]", equals("service.name", line.service));
	for (const shift of shifts(off)) params.append("shift[]", shift);
	if (reach.startsWith("n")) {
		params.set("around", line.id);
		params.set("limit", String(size * 2));
	} else {
		params.set("from", String(line.time_us - size * 1_000_000));
		params.set("to", String(line.time_us + size * 1_000_000 + 1));
		params.set("limit", String(MOST));
	}
	const { data, error } = useQuery({
		queryKey: ["nearby", params.toString()],
		queryFn: ({ signal }) => answer(api.GET("/api/lines", { ...asking(params), signal })),
		placeholderData: (before) => before,
	});
	return (
		<>
			<div className={classes.tools}>
				<SegmentedControl
					size="xs"
					aria-label="among"
					value={among}
					onChange={setAmong}
					data={[
						{ value: "all", label: "all machines" },
						{ value: "machine", label: line.machine ?? "no machine", disabled: !line.machine },
						{ value: "service", label: line.service ?? "no service", disabled: !line.service },
					]}
				/>
				<Select
					size="xs"
					w={120}
					aria-label="how far"
					data={REACH}
					value={reach}
					onChange={(next) => next && setReach(next)}
				/>
				<TrueTimeSwitch question={question} />
				{data?.more_after && !reach.startsWith("n") && (
					<span>the first {number(data.lines.length)} lines are shown</span>
				)}
			</div>
			{error && <p>{error.message}</p>}
			<Rows lines={data?.lines ?? []} chosen={line.id} onChoose={onChoose} />
		</>
	);
}
