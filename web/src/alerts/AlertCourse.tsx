import { Course } from "../shared/Course";
import { quantity } from "../shared/quantity";
import { clock } from "../shared/time";
import { useZone } from "../shared/zone";
import { type AlertDetail, useAlertCourse } from "./api";

/** How what the rule counts or measures went, beside the level that it went beyond. */
export function AlertCourse({ alert }: { alert: AlertDetail }) {
	const { zone } = useZone();
	const { data } = useAlertCourse(alert);
	const course = data?.course;
	if (!course) return null;
	const { from_us: from, step_us: stepUs, values, level, critical, unit, says } = course;
	const bars = values.flatMap((value, step) =>
		value === null ? [] : [{ at: from + step * stepUs, value, says: quantity(value, unit) }],
	);
	const most = Math.max(...bars.map(({ value }) => value));
	const words = `${says}: ${quantity(most, unit)} at most, the level is ${quantity(level, unit)}`;
	return (
		<Course
			bars={bars}
			stepUs={stepUs}
			from={from}
			to={from + values.length * stepUs}
			marked={{ from: alert.from_us, to: alert.last_us }}
			levels={[
				{ value: level, colour: "var(--severity-error-text)" },
				...(critical === null ? [] : [{ value: critical, colour: "var(--severity-critical-text)" }]),
			]}
			head={words}
			label={words}
			ends={(us) => clock(us, zone)}
		/>
	);
}
