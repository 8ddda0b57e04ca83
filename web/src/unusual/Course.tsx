import { day, number } from "../shared/time";
import { useZone } from "../shared/zone";
import type { OddityDetail } from "./api";
import classes from "./Unusual.module.css";

const HOUR_US = 3_600_000_000;
const DAY_US = 24 * HOUR_US;
const WIDTH = 360;
const HEIGHT = 90;
const FOOT = 16;

/** Lines by hour, with the hours that are unusual, and what was expected there. */
export function Course({ oddity }: { oddity: OddityDetail }) {
	const { zone } = useZone();
	const { course, from_us, last_us, expected } = oddity;
	const first = Math.min(from_us - 3 * DAY_US, course[0]?.from_us ?? from_us);
	const end = Math.max(last_us, course.at(-1)?.from_us ?? 0) + HOUR_US;
	const most = Math.max(1, ...course.map(({ lines }) => lines));
	const hours = Math.floor((last_us - from_us) / HOUR_US) + 1;
	const x = (us: number) => ((us - first) / (end - first)) * WIDTH;
	const y = (lines: number) => HEIGHT - (lines / most) * (HEIGHT - 12);
	const wide = Math.max((HOUR_US / (end - first)) * WIDTH - 0.3, 1.2);
	const usual = expected === null ? null : expected / hours;
	const unusual = (us: number) => us + HOUR_US > from_us && us <= last_us;
	return (
		<svg
			className={classes.course}
			viewBox={`0 0 ${WIDTH} ${HEIGHT + FOOT}`}
			role="img"
			aria-label={`lines by hour, at most ${number(most)}`}
		>
			<rect x={x(from_us)} y="0" width={Math.max(x(last_us) - x(from_us), wide)} height={HEIGHT} fill="var(--chosen)" />
			{course.map(({ from_us: at, lines }) => (
				<rect
					key={at}
					x={x(at)}
					y={Math.min(y(lines), HEIGHT - 2)}
					width={wide}
					height={Math.max(HEIGHT - y(lines), 2)}
					fill={unusual(at) ? "var(--severity-error)" : "var(--severity-informational)"}
				>
					<title>{number(lines)}</title>
				</rect>
			))}
			{usual !== null && (
				<line
					x1={Math.max(x(from_us) - 12, 0)}
					x2={Math.min(x(last_us) + 12, WIDTH)}
					y1={y(usual)}
					y2={y(usual)}
					stroke="var(--ink)"
					strokeDasharray="3 2"
				/>
			)}
			<text x="0" y="10">
				{number(most)} an hour
			</text>
			<text x="0" y={HEIGHT + FOOT - 3}>
				{day(first, zone)}
			</text>
			<text x={WIDTH} y={HEIGHT + FOOT - 3} textAnchor="end">
				{day(end, zone)}
			</text>
		</svg>
	);
}
