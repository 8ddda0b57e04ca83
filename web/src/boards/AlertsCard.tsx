import { Link } from "react-router";
import { lasted } from "../alerts/api";
import { SeverityTicks } from "../shared/severity";
import { number } from "../shared/time";
import classes from "./Boards.module.css";
import type { KindProps } from "./kinds";

/** Alerts, the worst first; each leads to itself. */
export function AlertsCard({ answer }: KindProps) {
	const { alerts = [], total = 0 } = answer.alerts ?? {};
	if (total === 0) return <p className={classes.hint}>No such alert in this time.</p>;
	return (
		<>
			<table className={classes.groups}>
				<tbody>
					{alerts.map((alert) => (
						<tr key={alert.id} data-state={alert.state}>
							<td>
								<SeverityTicks code={alert.worst} />
							</td>
							<td className={classes.text}>
								<Link to={`/alerts?alert=${alert.id}`}>{alert.name}</Link>{" "}
								<span className={classes.second}>
									{alert.key.map(({ value }) => value).join(" · ")}
									{alert.folded > 0 && ` and ${number(alert.folded)} with it`}
								</span>
							</td>
							<td className={classes.figure}>{lasted(alert)}</td>
							<td className={classes.second}>{alert.taken_by ?? alert.state}</td>
						</tr>
					))}
				</tbody>
			</table>
			{total > alerts.length && (
				<p className={classes.hint}>
					the worst {number(alerts.length)} of {number(total)} alerts
				</p>
			)}
		</>
	);
}
