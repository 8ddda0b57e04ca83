import { Link } from "react-router";
import { fold } from "../logbook/fold";
import { evidence } from "../shared/evidence";
import { SeverityTicks } from "../shared/severity";
import { clock, DAY_US, day, number } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Boards.module.css";
import type { KindProps } from "./kinds";

/** What the logbook tells, the latest first; each entry leads to its lines. */
export function EntriesCard({ answer }: KindProps) {
	const { zone } = useZone();
	const { entries = [], total = 0 } = answer.logbook ?? {};
	const days = answer.to_us - answer.from_us > DAY_US;
	if (total === 0) return <p className={classes.hint}>Nothing notable in this time.</p>;
	return (
		<>
			<table className={classes.groups}>
				<tbody>
					{fold(entries)
						.reverse()
						.map(({ first, last, count }) => (
							<tr key={first.id}>
								<td className={classes.time}>
									{days && `${day(first.time_us, zone)} `}
									{clock(first.time_us, zone)}
								</td>
								<td>
									<SeverityTicks code={first.severity} />
								</td>
								<td className={classes.text}>
									<Link to={evidence(first, last)}>
										<b>{first.machine}</b> {first.says}
									</Link>
									{count > 1 && <span className={classes.second}> and {number(count - 1)} more</span>}
								</td>
							</tr>
						))}
				</tbody>
			</table>
			{total > entries.length && (
				<p className={classes.hint}>
					the latest {number(entries.length)} of {number(total)} entries
				</p>
			)}
		</>
	);
}
