import { useQuery } from "@tanstack/react-query";
import { answer, api, asking } from "../api/client";
import type { LineDetail } from "../api/types";
import { Words } from "../shared/PatternText";
import { type Change, equals } from "../shared/question";
import { clock, dayAndYear, day as dayName, number, utcOffset } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Thread.module.css";

const DAY_US = 86_400_000_000;

function Bars({
	counts,
	names,
	label,
	onBar,
}: {
	counts: number[];
	names: string[];
	label: string;
	onBar?: (index: number) => void;
}) {
	const most = Math.max(...counts, 1);
	return (
		<div className={classes.bars} role="img" aria-label={label}>
			{counts.map((n, index) => (
				<button
					type="button"
					key={names[index]}
					disabled={!onBar || !n}
					title={`${names[index]}: ${number(n)} lines`}
					onClick={() => onBar?.(index)}
				>
					<i style={{ height: `${n ? Math.max((100 * n) / most, 3) : 0}%` }} />
				</button>
			))}
		</div>
	);
}

/** Whether the pattern of a line was there before: per day, by hour of the day, and since when. */
export function SeenBefore({ line, change }: { line: LineDetail; change: Change }) {
	const { zone } = useZone();
	const params = new URLSearchParams({ utc_offset: String(utcOffset(line.time_us, zone)) });
	const { data: seen, error } = useQuery({
		queryKey: ["seen", line.id, params.toString()],
		queryFn: ({ signal }) =>
			answer(api.GET("/api/lines/{id}/seen-before", { ...asking(params, { id: line.id }), signal })),
	});
	if (error) return <p>{error.message}</p>;
	if (!seen) return <p>Looking back</p>;
	const start = (index: number) => seen.start_us + index * DAY_US;
	const days = seen.days.filter((n) => n > 0).length;
	return (
		<div className={classes.seen}>
			<p className={classes.pattern}>
				<Words text={seen.text} />
			</p>
			<p data-seen>
				{seen.first_us === line.time_us || (seen.total === 1 && seen.first_us !== null)
					? "This was the first time ever."
					: seen.first_us !== null &&
						`First on ${dayAndYear(seen.first_us, zone)} at ${clock(seen.first_us, zone)}; ${number(seen.total)} lines in all, on ${days} of the ${seen.days.length} days up to this line.`}
			</p>
			<h3>{seen.days.length} days up to this line</h3>
			<Bars
				counts={seen.days}
				names={seen.days.map((_, index) => dayName(start(index), zone))}
				label="lines per day"
				onBar={(index) =>
					change({
						thread: "",
						find: "",
						chips: [equals("pattern", seen.pattern)],
						fromUs: start(index),
						toUs: start(index + 1),
						view: "lines",
					})
				}
			/>
			<div className={classes.ends}>
				<span>{dayName(start(0), zone)}</span>
				<span>{dayName(line.time_us, zone)}</span>
			</div>
			<h3>Hours of the day</h3>
			<Bars
				counts={seen.hours}
				names={seen.hours.map((_, hour) => `${String(hour).padStart(2, "0")}:00`)}
				label="lines by hour of the day"
			/>
			<div className={classes.ends}>
				<span>00:00</span>
				<span>12:00</span>
				<span>24:00</span>
			</div>
		</div>
	);
}
