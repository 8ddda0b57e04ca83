import { severityColor, severityName } from "../shared/severity";
import { day, number } from "../shared/time";
import type { LogbookPage } from "./api";
import classes from "./Logbook.module.css";

const WIDTH = 34;
const HEIGHT = 46;

/** Happenings by day; a click goes there. */
export function Density({ days, onDay }: { days: LogbookPage["days"]; onDay: (fromUs: number) => void }) {
	const most = Math.max(1, ...days.map((one) => one.severities.reduce((sum, n) => sum + n, 0)));
	return (
		<ol className={classes.density} aria-label="Happenings by day">
			{days.map((one) => {
				const total = one.severities.reduce((sum, n) => sum + n, 0);
				let from = HEIGHT;
				return (
					<li key={one.from_us}>
						<button type="button" onClick={() => onDay(one.from_us)} title={`${number(total)} happenings`}>
							<svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width={WIDTH} height={HEIGHT} role="img" aria-label={`${total}`}>
								{one.severities.map((n, severity) => {
									const tall = n === 0 ? 0 : Math.max(1.5, (n / most) * HEIGHT);
									from -= tall;
									return (
										<rect
											key={severityName(severity)}
											x="2"
											y={Math.max(0, from)}
											width={WIDTH - 4}
											height={tall}
											fill={severityColor(severity)}
										/>
									);
								})}
							</svg>
							<span>{day(one.from_us, "UTC")}</span>
						</button>
					</li>
				);
			})}
		</ol>
	);
}
