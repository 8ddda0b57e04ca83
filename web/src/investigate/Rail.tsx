import { SegmentedControl, Tooltip } from "@mantine/core";
import { useElementSize } from "@mantine/hooks";
import { type PointerEvent, useMemo, useState } from "react";
import type { Happening, Histogram, Series } from "../api/types";
import { DELIBERATE, type Folded } from "../logbook/fold";
import type { Lanes } from "../shared/question";
import { SEVERITIES, SeverityTicks, severityColor } from "../shared/severity";
import { clock, DAY_US, dayAndYear, number, stepName, utcOffset, WEEK_US, windowName } from "../shared/time";
import { useZone } from "../shared/zone";
import { inFold, stepOfTime, timeOfStep } from "./folds";
import { type Count, stepsOf } from "./histogram";
import classes from "./Rail.module.css";

interface Props {
	/** Of this question, or while it is counted of the one before. */
	histogram: Histogram | undefined;
	count: Count;
	lanes: Lanes;
	hidden: string[];
	/** Time of the first and last line on screen. */
	visible: [number, number] | null;
	onLanes: (lanes: Lanes) => void;
	onHidden: (hidden: string[]) => void;
	onZoom: (fromUs: number, toUs: number) => void;
	onJump: (us: number) => void;
	onLane: (lanes: Exclude<Lanes, "">, name: string) => void;
	onCancel: () => void;
	onCount: () => void;
	/** What the logbook has of the window. */
	told: Folded[];
	onTold: (one: Happening) => void;
	/** Whether stretches without a line are drawn at their length. */
	whole: boolean;
	onWhole: (whole: boolean) => void;
}

/** What is brought about on purpose has a full mark, what befalls a machine an open one. */
const MARK = 5;
/** More marks than this would hide each other: the worse ones stay. */
const MOST_MARKS = 60;

const LEFT = 66;
const MOST_LANES = 24;
const LABEL_GAP = 30;
/** Room for the slanted names of the last lanes. */
const LANES_RIGHT = 40;
/** Seconds between labels. */
const ROUND = [
	0.01, 0.05, 0.1, 0.5, 1, 5, 10, 30, 60, 120, 300, 600, 1800, 3600, 7200, 14_400, 21_600, 43_200, 86_400, 172_800,
	604_800, 1_209_600, 2_419_200, 7_862_400, 31_449_600,
];

/** Weeks start on Monday; 1 January 1970 was three days later in its week. */
const MONDAY = 259_200_000_000;

/** Steps that carry a label: at round times, and no closer than can be read. */
function labelled(histogram: Histogram, rowHeight: number, zone: string): number[] {
	const wanted = (LABEL_GAP / rowHeight) * histogram.step_us;
	const every = ROUND.map((seconds) => seconds * 1_000_000).find(
		(size) => size >= wanted && size % histogram.step_us === 0,
	);
	const weeks = every !== undefined && every % WEEK_US === 0 ? MONDAY : 0;
	const shift = utcOffset(histogram.start_us, zone) * 1_000_000 + weeks;
	const starts = stretches(histogram);
	const room = LABEL_GAP / 2 / rowHeight;
	return Array.from({ length: histogram.steps }, (_, step) => step).filter(
		(step) =>
			!inFold(histogram, step) &&
			starts.every((start) => Math.abs(step - start) > room) &&
			(timeOfStep(histogram, step) + shift) % (every ?? wanted * 2) === 0,
	);
}

/** Where the parts between folds start; none where nothing is folded. */
function stretches({ folds, fold_steps: steps }: Histogram): number[] {
	return folds.length ? [0, ...folds.map((fold) => fold.step + steps)] : [];
}

/** Between the labels of minutes the seconds are enough, and leave room for marks. */
function railName(us: number, stepUs: number, zone: string): string {
	return stepName(us, stepUs, zone).replace(/^\d\d:\d\d(?=:\d\d$)/, "");
}

function empty({ from_us: from, to_us: to }: Histogram["folds"][number]): string {
	const days = Math.round((to - from) / DAY_US);
	return days === 1 ? "a day without a line" : `${number(days)} days without a line`;
}

function worst(counts: number[]): number {
	const code = counts.findIndex((n) => n > 0);
	return code === -1 ? 8 : code;
}

/** Bars of one step: worst first, so that a few bad lines are seen at the foot of a long bar. */
function Bar({
	counts,
	y,
	height,
	scale,
	width,
}: {
	counts: number[];
	y: number;
	height: number;
	scale: number;
	width: number;
}) {
	let x = LEFT;
	return counts.map((n, code) => {
		if (!n) return null;
		const size = Math.max(n * scale, code <= 4 ? 2 : 0.7);
		const from = x;
		x += size;
		if (from > LEFT + width) return null;
		return (
			<rect
				key={SEVERITIES[code]}
				x={from}
				y={y}
				width={Math.min(size, LEFT + width - from)}
				height={height}
				fill={fill(code)}
			/>
		);
	});
}

function fill(code: number): string {
	return code >= 7 ? "url(#hatched)" : severityColor(code);
}

function Lane({
	series,
	x,
	width,
	top,
	rowHeight,
	most,
}: {
	series: Series;
	x: number;
	width: number;
	top: number;
	rowHeight: number;
	most: number;
}) {
	return series.counts.map(([step = 0, ...counts]) => {
		const total = counts.reduce((sum, n) => sum + n, 0);
		const code = worst(counts);
		const strength =
			code <= 4 ? 0.55 + 0.45 * Math.sqrt((counts[code] ?? 0) / most) : 0.25 + 0.5 * Math.sqrt(total / most);
		return (
			<rect
				key={step}
				x={x}
				y={top + step * rowHeight}
				width={width - 3}
				height={Math.max(rowHeight - 1, 1)}
				fill={severityColor(code)}
				opacity={Math.min(strength, 1)}
			/>
		);
	});
}

/** The vertical drawing of time beside the lines, oldest at the top. Drag to zoom, click to go there. */
export function Rail({
	histogram,
	count,
	lanes,
	hidden,
	visible,
	onLanes,
	onHidden,
	onZoom,
	onJump,
	onLane,
	onCancel,
	onCount,
	told,
	onTold,
	whole,
	onWhole,
}: Props) {
	const { zone } = useZone();
	const { ref, width, height } = useElementSize();
	const [drag, setDrag] = useState<[number, number] | null>(null);
	const [hover, setHover] = useState<number | null>(null);

	const split = lanes !== "" && histogram !== undefined;
	const shown = split ? histogram.series.slice(0, MOST_LANES) : [];
	const top = split ? 92 : 8;
	const usable = Math.max(height - top - 8, 1);
	const rowHeight = histogram ? usable / histogram.steps : usable;
	const plotWidth = Math.max(width - LEFT - 8, 1);

	const byStep = useMemo(() => {
		const sums = new Map<number, number[]>();
		for (const [step = 0, ...counts] of histogram ? stepsOf(histogram) : []) {
			const sum = sums.get(step) ?? new Array<number>(9).fill(0);
			counts.forEach((n, code) => {
				sum[code] = (sum[code] ?? 0) + n;
			});
			sums.set(step, sum);
		}
		return sums;
	}, [histogram]);
	const totals = [...byStep.values()].map((counts) => counts.reduce((sum, n) => sum + n, 0));
	const beside = (!split && histogram?.beside) || [];
	const most = Math.max(...totals, ...beside, 1);

	const timeAt = (y: number) => {
		if (!histogram) return 0;
		const clamped = Math.min(Math.max(y - top, 0), usable);
		return Math.round(timeOfStep(histogram, clamped / rowHeight));
	};
	const yOf = (us: number) => (histogram ? top + stepOfTime(histogram, us) * rowHeight : 0);
	const within = (us: number) => (histogram ? Math.min(Math.max(us, histogram.from_us), histogram.to_us) : us);
	const place = (event: PointerEvent<SVGSVGElement>) => event.clientY - event.currentTarget.getBoundingClientRect().top;

	const finish = () => {
		if (!drag || !histogram) return setDrag(null);
		const [from, to] = [Math.min(...drag), Math.max(...drag)];
		if (to - from < 5) onJump(within(timeAt(from)));
		else {
			// Whole steps, so that the new window has round ends.
			const first = Math.round(timeOfStep(histogram, Math.floor((from - top) / rowHeight)));
			const last = Math.round(timeOfStep(histogram, Math.ceil((to - top) / rowHeight)));
			onZoom(within(first), within(last));
		}
		setDrag(null);
	};

	const marks = useMemo(() => {
		const inside = told.filter(
			({ first }) => histogram && first.time_us >= histogram.from_us && first.time_us < histogram.to_us,
		);
		return inside.length <= MOST_MARKS
			? inside
			: [...inside].sort((one, other) => one.first.severity - other.first.severity).slice(0, MOST_MARKS);
	}, [told, histogram]);
	const labels = useMemo(() => (histogram ? labelled(histogram, rowHeight, zone) : []), [histogram, rowHeight, zone]);
	const sums = SEVERITIES.map((_, code) => [...byStep.values()].reduce((sum, counts) => sum + (counts[code] ?? 0), 0));
	const hovered =
		hover === null || !histogram ? null : Math.min(Math.floor((hover - top) / rowHeight), histogram.steps - 1);
	const hoveredCounts = hovered === null ? null : (byStep.get(hovered) ?? null);

	return (
		<aside className={classes.rail} aria-label="Time rail">
			<SegmentedControl
				className={classes.switch}
				size="xs"
				fullWidth
				value={lanes}
				onChange={(value) => onLanes(value as Lanes)}
				data={[
					{ label: "All", value: "" },
					{ label: "Machines", value: "machine" },
					{ label: "Services", value: "service" },
				]}
			/>
			<div ref={ref} className={classes.plot}>
				{histogram && height > 0 && (
					<svg
						width={width}
						height={height}
						className={classes.drawing}
						data-rail
						data-old={count === "done" ? undefined : ""}
						aria-label={`${number(histogram.total)} lines by time; drag to zoom`}
						onPointerDown={(event) => {
							if (event.target instanceof Element && event.target.closest("[data-lane], [data-mark], [data-fold]"))
								return;
							event.currentTarget.setPointerCapture(event.pointerId);
							setDrag([place(event), place(event)]);
						}}
						onPointerMove={(event) => {
							setHover(place(event));
							if (drag) setDrag([drag[0], place(event)]);
						}}
						onPointerLeave={() => setHover(null)}
						onPointerUp={finish}
					>
						<defs>
							<pattern id="hatched" width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
								<rect width="4" height="4" fill="var(--severity-debug)" opacity="0.45" />
								<line x1="0" y1="0" x2="0" y2="4" stroke="var(--severity-debug)" strokeWidth="2.5" />
							</pattern>
						</defs>
						{labels.map((step) => (
							<g key={step}>
								<line
									x1={LEFT}
									x2={width - 6}
									y1={top + step * rowHeight}
									y2={top + step * rowHeight}
									className={classes.grid}
								/>
								<text x={LEFT - 6} y={top + step * rowHeight + 4} className={classes.label}>
									{railName(timeOfStep(histogram, step), histogram.step_us, zone)}
								</text>
							</g>
						))}
						{stretches(histogram).map((step) => (
							<text key={step} x={LEFT - 6} y={top + step * rowHeight + 9} className={classes.label}>
								{dayAndYear(timeOfStep(histogram, step), zone).replace(/^\d+ (\w+) \d\d/, "$1 ’")}
							</text>
						))}
						{split
							? shown.map((series, index) => {
									const laneWidth = Math.min(Math.max((plotWidth - LANES_RIGHT) / Math.max(shown.length, 1), 5), 24);
									const x = LEFT + index * laneWidth;
									const name = series.name ?? "no name";
									return (
										<g key={name} data-name={name}>
											<Lane series={series} x={x} width={laneWidth} top={top} rowHeight={rowHeight} most={most} />
											{/* biome-ignore lint/a11y/useSemanticElements: SVG has no button */}
											<g
												data-lane
												tabIndex={0}
												role="button"
												aria-label={`only ${name}`}
												className={classes.head}
												onClick={() => series.name && onLane(lanes as Exclude<Lanes, "">, series.name)}
												onKeyDown={(event) =>
													event.key === "Enter" && series.name && onLane(lanes as Exclude<Lanes, "">, series.name)
												}
											>
												<text transform={`translate(${x + laneWidth / 2 + 3}, ${top - 6}) rotate(-58)`}>
													{name.length > 15 ? `${name.slice(0, 14)}…` : name}
												</text>
											</g>
										</g>
									);
								})
							: [...byStep].map(([step, counts]) => (
									<g key={step}>
										<Bar
											counts={counts}
											y={top + step * rowHeight}
											height={Math.max(rowHeight - 1.5, 1)}
											scale={(plotWidth * 0.94) / most}
											width={plotWidth}
										/>
									</g>
								))}
						{histogram.folds.map((fold) => (
							// biome-ignore lint/a11y/useSemanticElements: SVG has no button
							<g
								key={fold.from_us}
								data-fold
								role="button"
								tabIndex={0}
								aria-label={`${empty(fold)}; draw it at its length`}
								className={classes.fold}
								onClick={() => onWhole(true)}
								onKeyDown={(event) => event.key === "Enter" && onWhole(true)}
							>
								<rect
									x={LEFT}
									y={top + fold.step * rowHeight + 1}
									width={plotWidth}
									height={Math.max(histogram.fold_steps * rowHeight - 2, 2)}
								/>
								<text
									x={LEFT + plotWidth / 2}
									y={top + (fold.step + histogram.fold_steps / 2) * rowHeight + 4}
									textAnchor="middle"
								>
									{empty(fold)}
								</text>
							</g>
						))}
						{beside.some((n) => n > 0) && (
							<path
								className={classes.beside}
								d={`M${LEFT} ${top} ${beside
									.map((n, step) => {
										const x = LEFT + (n * plotWidth * 0.94) / most;
										return `L${x} ${top + step * rowHeight} V${top + (step + 1) * rowHeight}`;
									})
									.join(" ")}`}
							>
								<title>what it is compared with</title>
							</path>
						)}
						{marks.map(({ first, count }) => {
							const y = yOf(first.time_us);
							const colour = first.severity <= 4 ? severityColor(first.severity) : "var(--primary)";
							const full = DELIBERATE.includes(first.kind);
							return (
								// biome-ignore lint/a11y/useSemanticElements: SVG has no button
								<g
									key={first.id}
									data-mark={first.kind}
									role="button"
									tabIndex={0}
									aria-label={first.says}
									className={classes.mark}
									onClick={() => onTold(first)}
									onKeyDown={(event) => event.key === "Enter" && onTold(first)}
								>
									<title>{`${clock(first.time_us, zone)} ${first.machine ?? ""}: ${first.says}${count > 1 ? `, and ${count - 1} more` : ""}`}</title>
									<line x1={MARK * 2} x2={width - 6} y1={y} y2={y} stroke={colour} />
									{full ? (
										<rect
											x={-MARK / 1.4}
											y={-MARK / 1.4}
											width={MARK * 1.4}
											height={MARK * 1.4}
											transform={`translate(${MARK + 1} ${y}) rotate(45)`}
											fill={colour}
										/>
									) : (
										<circle cx={MARK + 1} cy={y} r={MARK - 1} fill="var(--page)" stroke={colour} strokeWidth="2" />
									)}
								</g>
							);
						})}
						{visible && (
							<rect
								x={LEFT - 3}
								width={width - LEFT - 1}
								y={yOf(visible[0]) - 1}
								height={Math.max(yOf(visible[1]) - yOf(visible[0]) + 2, 4)}
								className={classes.visible}
							/>
						)}
						{hovered !== null && !drag && hovered >= 0 && (
							<rect
								x={LEFT}
								width={plotWidth}
								y={top + hovered * rowHeight}
								height={rowHeight}
								className={classes.hovered}
							/>
						)}
						{drag && (
							<rect
								x={LEFT - 3}
								width={width - LEFT - 1}
								y={Math.min(...drag)}
								height={Math.abs(drag[1] - drag[0])}
								className={classes.drag}
							/>
						)}
					</svg>
				)}
				{count === "going on" && (
					<div className={classes.counting} role="status">
						counting…{" "}
						<button type="button" className={classes.cancel} onClick={onCancel}>
							stop
						</button>
					</div>
				)}
				{count === "stopped" && (
					<div className={classes.counting} role="status">
						not counted{" "}
						<button type="button" className={classes.cancel} onClick={onCount}>
							count
						</button>
					</div>
				)}
				{drag && Math.abs(drag[1] - drag[0]) >= 5 && (
					<div className={classes.tip} style={{ top: Math.max(...drag) + 4 }}>
						{windowName(timeAt(Math.min(...drag)), timeAt(Math.max(...drag)), zone)}
					</div>
				)}
				{hoveredCounts && hovered !== null && !drag && histogram && (
					<div
						className={classes.tip}
						style={{ top: Math.min(Math.max(top + (hovered + 1) * rowHeight + 4, 0), height - 70) }}
					>
						{clock(Math.round(timeOfStep(histogram, hovered)), zone)}
						{hoveredCounts.map((n, code) =>
							n ? <span key={SEVERITIES[code]}>{` · ${number(n)} ${SEVERITIES[code]}`}</span> : null,
						)}
					</div>
				)}
			</div>
			{whole && (
				<button type="button" className={classes.cancel} onClick={() => onWhole(false)}>
					fold what is empty
				</button>
			)}
			{split && histogram.series.length > MOST_LANES && (
				<p className={classes.cut}>
					first {MOST_LANES} of {number(histogram.series.length + histogram.others.series)}; narrow to see others
				</p>
			)}
			<fieldset className={classes.legend} aria-label="Severities">
				{SEVERITIES.map((name, code) => {
					const off = hidden.includes(name);
					if (!off && !sums[code]) return null;
					return (
						<Tooltip key={name} label={off ? `show ${name}` : `hide ${name}`} position="right" openDelay={500}>
							<button
								type="button"
								className={classes.severity}
								aria-pressed={!off}
								onClick={() => onHidden(off ? hidden.filter((other) => other !== name) : [...hidden, name])}
							>
								<SeverityTicks code={code} /> {name}{" "}
								<span className={classes.count}>
									{off && "hidden"}
									{!off && count === "done" && number(sums[code] ?? 0)}
								</span>
							</button>
						</Tooltip>
					);
				})}
			</fieldset>
		</aside>
	);
}
