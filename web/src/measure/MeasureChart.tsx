import { CompositeChart, DonutChart } from "@mantine/charts";
import "@mantine/charts/styles.css";
import { type MouseEvent, useMemo } from "react";
import type { Group } from "../api/types";
import { quantity } from "../shared/quantity";
import { dayAndYear, number, stepName, WEEK_US } from "../shared/time";
import { useZone } from "../shared/zone";
import { allGroups, COLORS, type Drawn, groupColor, groupName, OTHER } from "./groups";
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
const TYPES = { bars: "bar", stacked: "bar", line: "line", area: "area" } as const;
const STACKED: Form[] = ["stacked", "area"];
/** What is compared with stands behind as a dashed line. */
const DASHES = "5 4";
/** Pixels of the names below a chart: a row, or two where there are many. */
const LEGEND = { row: 26, rows: 48, few: 4 };

const key = (index: number) => `g${String(index).padStart(3, "0")}`;
const beforeKey = (index: number) => `h${String(index).padStart(3, "0")}`;

interface Props {
	measurement: Drawn;
	form: Form;
	height: number;
	/** A step that is clicked; and a group of it, where one is hit. */
	onWindow: (fromUs: number, toUs: number, group?: Group) => void;
	onGroup?: (group: Group) => void;
}

type Row = Record<string, string | number | null>;

/** Of each step or group a row. */
function rowsOf(measurement: Drawn, all: Group[], before: Group[], zone: string): Row[] {
	const { start_us: start, step_us: step, steps } = measurement;
	if (start === null || step === null)
		return all.map((group, index) => ({ name: groupName(group), at: index, value: group.value ?? 0 }));
	const found: Row[] = Array.from({ length: steps }, (_, at) => ({
		name: step >= WEEK_US ? dayAndYear(start + at * step, zone) : stepName(start + at * step, step, zone),
		at,
	}));
	// A count of nothing is none; an average of nothing is not known.
	const none = measurement.aggregate === "count" || measurement.aggregate === "distinct" ? 0 : null;
	const lay = (groups: Group[], name: (index: number) => string) =>
		groups.forEach((group, index) => {
			for (const row of found) row[name(index)] = none;
			for (const [at, amount] of group.steps) if (found[at]) found[at][name(index)] = amount;
		});
	lay(all, key);
	lay(before, beforeKey);
	return found;
}

function Pie({ measurement, height, onGroup }: Omit<Props, "form" | "onWindow">) {
	const { unit } = measurement;
	const all = allGroups(measurement);
	return (
		<DonutChart
			data-chart="pie"
			data={all.map((group, index) => ({
				name: groupName(group),
				value: Math.max(group.value ?? 0, 0),
				color: groupColor(group, index),
			}))}
			size={Math.min(height - 30, 240)}
			thickness={Math.min(height - 30, 240) / 2 - 1}
			withTooltip
			valueFormatter={(value) => quantity(value, unit)}
			mx="auto"
			pieProps={{
				isAnimationActive: false,
				onClick: (_: unknown, index: number) => all[index] && onGroup?.(all[index]),
			}}
		/>
	);
}

/** A measurement drawn: a mark that is clicked leads to its step of time and its group. */
export function MeasureChart({ measurement, form, height, onWindow, onGroup }: Props) {
	const { zone } = useZone();
	const { unit, start_us: start, step_us: step, steps } = measurement;
	const all = useMemo(() => allGroups(measurement), [measurement]);
	// Bars that stand on each other are compared as a whole.
	const before = useMemo(() => {
		if (!measurement.before) return [];
		return STACKED.includes(form) ? [measurement.before.whole] : measurement.before.groups;
	}, [measurement.before, form]);
	const rows = useMemo(() => rowsOf(measurement, all, before, zone), [measurement, all, before, zone]);

	if (form === "number") return <p className={classes.one}>{quantity(measurement.whole.value, unit)}</p>;
	if (form === "pie") return <Pie measurement={measurement} height={height} onGroup={onGroup} />;

	const timed = start !== null && step !== null;
	const type = timed ? TYPES[form] : "bar";
	const series = timed
		? all.map((group, index) => ({
				name: key(index),
				label: groupName(group),
				color: groupColor(group, index),
				type,
			}))
		: [{ name: "value", label: measurement.aggregate, color: COLORS[0] ?? OTHER, type }];
	const behind = timed
		? before.map((group, index) => ({
				name: beforeKey(index),
				label: `${groupName(group)}, compared`,
				color: STACKED.includes(form) ? "var(--ink-second)" : groupColor(group, index),
				type: "line" as const,
				strokeDasharray: DASHES,
			}))
		: [];
	const open = (at: number, group?: Group) => {
		if (Number.isNaN(at)) return;
		if (timed) onWindow(start + at * step, start + (at + 1) * step, group);
		else if (all[at]) onGroup?.(all[at]);
	};
	const hit = (name: string, at: number, event: MouseEvent) => {
		// The chart as a whole is not meant.
		event.stopPropagation();
		open(at, all[series.findIndex((one) => one.name === name)]);
	};
	const still = { isAnimationActive: false, ...(STACKED.includes(form) && { stackId: "all" }) };
	const dot = (name: string) => ({
		onClick: (shape: object, event: MouseEvent) =>
			hit(name, "index" in shape ? Number(shape.index) : Number.NaN, event),
		style: { cursor: "pointer" },
		"data-series": name,
	});
	const named = timed && all.length > 1;
	const legend = named || behind.length > 0;
	const below = all.length > LEGEND.few ? LEGEND.rows : LEGEND.row;
	const chart = (
		<CompositeChart
			data-chart={form}
			h={legend ? Math.max(height - below, below) : height}
			data={rows}
			dataKey="name"
			series={[...series, ...behind]}
			valueFormatter={(one) => (unit ? quantity(one, unit) : number(Number(one.toPrecision(6))))}
			gridAxis="x"
			tickLine="none"
			xAxisProps={{ minTickGap: 24 }}
			yAxisProps={{ width: 68 }}
			classNames={{ root: classes.chart ?? "" }}
			curveType="linear"
			connectNulls={false}
			withDots={type === "line" && steps < 40}
			lineProps={({ name }) => ({
				isAnimationActive: false,
				activeDot: name.startsWith("g") ? { r: 5, ...dot(name) } : false,
				...(name.startsWith("h") && { dot: false, strokeWidth: 1.5 }),
			})}
			areaProps={({ name }) => ({ ...still, fillOpacity: 0.6, activeDot: { r: 5, ...dot(name) } })}
			barProps={({ name }) => ({
				...still,
				onClick: (_: unknown, at: number, event: MouseEvent) => hit(name, at, event),
			})}
			composedChartProps={{
				onClick: (state) => open(Number(state.activeIndex ?? Number.NaN)),
				barCategoryGap: 1,
				barGap: 0,
			}}
		/>
	);
	if (!legend) return chart;
	return (
		<>
			{chart}
			<ul className={classes.legend} data-rows={all.length > LEGEND.few ? 2 : 1}>
				{named &&
					all.map((group, index) => (
						<li key={key(index)}>
							<i className={classes.swatch} style={{ background: groupColor(group, index) }} />
							{onGroup ? (
								<button type="button" className="plain" onClick={() => onGroup(group)}>
									{groupName(group)}
								</button>
							) : (
								groupName(group)
							)}
						</li>
					))}
				{behind.length > 0 && <li>dashed: what it is compared with</li>}
			</ul>
		</>
	);
}
