import { SEVERITIES, severityColor } from "../shared/severity";
import { clock, day, number } from "../shared/time";
import { useZone } from "../shared/zone";
import type { Chart } from "./api";
import classes from "./Cases.module.css";

const WIDTH = 640;
const HEIGHT = 56;

/** Lines over time, as they were when they were pinned. */
export function CaseChart({ chart }: { chart: Chart }) {
	const { zone } = useZone();
	const totals = chart.counts.map((counts) => counts.reduce((sum, n) => sum + n, 0));
	const most = Math.max(1, ...totals);
	const wide = WIDTH / Math.max(1, chart.counts.length);
	return (
		<div className={classes.more}>
			<svg
				viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
				width={WIDTH}
				height={HEIGHT}
				role="img"
				aria-label={`lines over time, at most ${number(most)} a step`}
			>
				{chart.counts.map((counts, step) => {
					let y = HEIGHT;
					return counts.map((n, code) => {
						const tall = (n / most) * HEIGHT;
						y -= tall;
						return n === 0 ? null : (
							<rect
								key={`${step} ${SEVERITIES[code]}`}
								x={step * wide}
								y={y}
								width={Math.max(wide - 1, 0.5)}
								height={tall}
								fill={severityColor(code)}
							/>
						);
					});
				})}
			</svg>
			<br />
			from {day(chart.start_us, zone)} {clock(chart.start_us, zone)}, at most {number(most)} lines a step
		</div>
	);
}
