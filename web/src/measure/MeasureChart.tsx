import { AreaChart, BarChart, DonutChart, LineChart } from "@mantine/charts";
import "@mantine/charts/styles.css";
import { useMemo } from "react";
import type { Group, Schemas } from "../api/types";
import { quantity } from "../shared/quantity";
import { equals, has } from "../shared/question";
import { SEVERITIES, severityColor } from "../shared/severity";
import { dayAndYear, number, stepName, WEEK_US } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Measure.module.css";

export type Form = "bars" | "stacked" | "line" | "area" | "pie" | "number";
export const FORMS: Record<Form, string> = {
	bars: "bars",
	stacked: "stacked bars",
	line: "line",
	area: "area",
	pie: "pie",
	number: "one number",
};

/** Hues of the sea and the shore, apart from those that tell severity. */
const COLORS = Array.from({ length: 10 }, (_, index) => `var(--series-${index})`);
const OTHER = "var(--ink-third)";

/** What is drawn of a measurement. */
type Drawn = Schemas["CardAnswer"];

/** The conditions that lines of a group fulfil. */
export function conditions(measurement: Drawn, group: Group): string[] {
	return measurement.by.map((field, index) => {
		const value = group.by?.[index];
		return value === null || value === undefined ? `not ${has(field)}` : equals(field, value);
	});
}

export function groupName(group: Group): string {
	if (group.by === null) return "other";
	return group.by.length ? group.by.map((value) => value ?? "(none)").join(" · ") : "all";
}

export function groupColor(group: Group, index: number): string {
	if (group.by === null) return OTHER;
	const severity = group.by.find((value) => (SEVERITIES as readonly (string | null)[]).includes(value));
	const code = severity ? SEVERITIES.indexOf(severity as (typeof SEVERITIES)[number]) : -1;
	return code >= 0 ? severityColor(code) : (COLORS[index % COLORS.length] ?? OTHER);
}

/** Legends are sorted by these. */
const key = (index: number) => `g${String(index).padStart(3, "0")}`;

interface Props {
	measurement: Drawn;
	form: Form;
	height: number;
	onWindow: (fromUs: number, toUs: number) => void;
	onGroup?: (group: Group) => void;
}

/** A measurement drawn: a step that is clicked zooms to its time, a part of the pie narrows to its group. */
export function MeasureChart({ measurement, form, height, onWindow, onGroup }: Props) {
	const { zone } = useZone();
	const { groups, other, unit, start_us: start, step_us: step, steps } = measurement;
	const all = useMemo(() => (other ? [...groups, other] : groups), [groups, other]);
	const value = (one: number) => (unit ? quantity(one, unit) : number(Number(one.toPrecision(6))));
	const rows = useMemo(() => {
		if (start === null || step === null)
			return all.map((group, index) => ({ name: groupName(group), at: index, value: group.value ?? 0 }));
		const found: Record<string, string | number | null>[] = Array.from({ length: steps }, (_, at) => ({
			name: step >= WEEK_US ? dayAndYear(start + at * step, zone) : stepName(start + at * step, step, zone),
			at,
		}));
		// A count of nothing is none; an average of nothing is not known.
		const none = measurement.aggregate === "count" || measurement.aggregate === "distinct" ? 0 : null;
		all.forEach((group, index) => {
			for (const row of found) row[key(index)] = none;
			for (const [at, amount] of group.steps) if (found[at]) found[at][key(index)] = amount;
		});
		return found;
	}, [all, start, step, steps, zone, measurement.aggregate]);

	if (form === "number") return <p className={classes.one}>{quantity(measurement.whole.value, unit)}</p>;
	if (form === "pie")
		return (
			<DonutChart
				data-chart={form}
				data={all.map((group, index) => ({
					name: groupName(group),
					value: Math.max(group.value ?? 0, 0),
					color: groupColor(group, index),
				}))}
				size={Math.min(height - 30, 240)}
				thickness={Math.min(height - 30, 240) / 2 - 1}
				withTooltip
				valueFormatter={value}
				mx="auto"
				pieProps={{
					isAnimationActive: false,
					onClick: (_: unknown, index: number) => all[index] && onGroup?.(all[index]),
				}}
			/>
		);

	const timed = start !== null && step !== null;
	const series = timed
		? all.map((group, index) => ({
				name: key(index),
				label: groupName(group),
				color: groupColor(group, index),
			}))
		: [{ name: "value", label: measurement.aggregate, color: COLORS[0] ?? OTHER }];
	const onClick = (state: { activeIndex?: number | string | null }) => {
		const at = Number(state.activeIndex ?? Number.NaN);
		if (Number.isNaN(at)) return;
		if (timed) onWindow(start + at * step, start + (at + 1) * step);
		else if (all[at]) onGroup?.(all[at]);
	};
	const shared = {
		"data-chart": form,
		h: height,
		data: rows,
		dataKey: "name",
		series,
		valueFormatter: value,
		withLegend: timed && all.length > 1,
		legendProps: { verticalAlign: "bottom" as const, height: 30 },
		gridAxis: "x" as const,
		tickLine: "none" as const,
		xAxisProps: { minTickGap: 24 },
		yAxisProps: { width: 68 },
		classNames: { root: classes.chart },
	};
	if (form === "line")
		return (
			<LineChart
				{...shared}
				withDots={steps < 40}
				curveType="linear"
				connectNulls={false}
				lineProps={{ isAnimationActive: false }}
				lineChartProps={{ onClick }}
			/>
		);
	if (form === "area")
		return (
			<AreaChart
				{...shared}
				type="stacked"
				withDots={false}
				curveType="linear"
				areaProps={{ isAnimationActive: false }}
				areaChartProps={{ onClick }}
			/>
		);
	return (
		<BarChart
			{...shared}
			type={form === "stacked" ? "stacked" : "default"}
			barProps={{ isAnimationActive: false }}
			barChartProps={{ onClick, barCategoryGap: 1, barGap: 0 }}
		/>
	);
}
