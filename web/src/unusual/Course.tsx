import { Course as Drawing } from "../shared/Course";
import { number } from "../shared/time";
import type { OddityDetail } from "./api";

const HOUR_US = 3_600_000_000;
const DAY_US = 24 * HOUR_US;
/** Hours beside it, over which what was expected is drawn. */
const BESIDE_US = 12 * HOUR_US;

/** Lines by hour, with the hours that are unusual, and what was expected there. */
export function Course({ oddity }: { oddity: OddityDetail }) {
	const { course, from_us, last_us, expected } = oddity;
	const from = Math.min(from_us - 3 * DAY_US, course[0]?.from_us ?? from_us);
	const to = Math.max(last_us, course.at(-1)?.from_us ?? 0) + HOUR_US;
	const most = Math.max(1, ...course.map(({ lines }) => lines));
	const hours = Math.floor((last_us - from_us) / HOUR_US) + 1;
	const usual = expected === null ? [] : [expected / hours];
	return (
		<Drawing
			bars={course.map(({ from_us: at, lines }) => ({ at, value: lines, says: number(lines) }))}
			stepUs={HOUR_US}
			from={from}
			to={to}
			marked={{ from: from_us, to: last_us }}
			levels={usual.map((value) => ({
				value,
				from: Math.max(from_us - BESIDE_US, from),
				to: Math.min(last_us + BESIDE_US, to),
				colour: "var(--ink)",
			}))}
			head={`${number(most)} an hour`}
			label={`lines by hour, at most ${number(most)}`}
		/>
	);
}
