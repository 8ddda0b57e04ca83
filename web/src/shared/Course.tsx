import type { ReactNode } from "react";
import classes from "./Course.module.css";
import { day } from "./time";
import { useZone } from "./zone";

const WIDTH = 360;
const HEIGHT = 90;
const FOOT = 16;
/** Above the highest bar, for what the values are. */
const HEAD = 14;
const LEAST_WIDE = 1.2;

export interface Bar {
	at: number;
	value: number;
	/** In words. */
	says: string;
}

interface Level {
	value: number;
	from?: number;
	to?: number;
	colour: string;
}

interface Props {
	bars: Bar[];
	stepUs: number;
	from: number;
	to: number;
	/** What it is about: from when to when. */
	marked: { from: number; to: number };
	levels: Level[];
	/** What the values are. */
	head: string;
	label: string;
	/** What stands at an end. */
	ends?: (us: number) => ReactNode;
}

/** Values over time, those that it is about apart from the others, and the levels that they go beyond. */
export function Course({ bars, stepUs, from, to, marked, levels, head, label, ends }: Props) {
	const { zone } = useZone();
	const most = Math.max(Number.MIN_VALUE, ...bars.map(({ value }) => value), ...levels.map(({ value }) => value));
	const x = (us: number) => Math.min(Math.max(((us - from) / (to - from)) * WIDTH, 0), WIDTH);
	const y = (value: number) => HEIGHT - (value / most) * (HEIGHT - HEAD);
	const wide = Math.max((stepUs / (to - from)) * WIDTH - 0.3, LEAST_WIDE);
	const within = (us: number) => us + stepUs > marked.from && us <= marked.to;
	const end = ends ?? ((us: number) => day(us, zone));
	return (
		<svg className={classes.course} viewBox={`0 0 ${WIDTH} ${HEIGHT + FOOT}`} role="img" aria-label={label}>
			<rect
				x={x(marked.from)}
				y="0"
				width={Math.max(x(marked.to) - x(marked.from), wide)}
				height={HEIGHT}
				fill="var(--chosen)"
			/>
			{bars
				.filter(({ value }) => value > 0)
				.map(({ at, value, says }) => (
					<rect
						key={at}
						x={x(at)}
						y={Math.min(y(value), HEIGHT - 2)}
						width={wide}
						height={Math.max(HEIGHT - y(value), 2)}
						fill={within(at) ? "var(--severity-error)" : "var(--severity-informational)"}
					>
						<title>{says}</title>
					</rect>
				))}
			{levels.map(({ value, from: begins = from, to: over = to, colour }) => (
				<line
					key={`${colour} ${value}`}
					x1={x(begins)}
					x2={x(over)}
					y1={y(value)}
					y2={y(value)}
					stroke={colour}
					strokeDasharray="3 2"
				/>
			))}
			<text x="0" y="10">
				{head}
			</text>
			<text x="0" y={HEIGHT + FOOT - 3}>
				{end(from)}
			</text>
			<text x={WIDTH} y={HEIGHT + FOOT - 3} textAnchor="end">
				{end(to)}
			</text>
		</svg>
	);
}
