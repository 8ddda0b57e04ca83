import { Link } from "react-router";
import type { Schemas } from "../api/types";
import { equals } from "../shared/question";
import { SeverityTicks } from "../shared/severity";
import { number } from "../shared/time";
import classes from "./Alerts.module.css";

export type Told = Schemas["MachineAlerts"];

/** Where the alerts of machines are that are not closed. */
export function alertsOf(condition: string, alert?: number): string {
	const params = new URLSearchParams({ show: "standing", find: condition });
	if (alert !== undefined) params.set("alert", String(alert));
	return `/alerts?${params}`;
}

/** The alerts of a machine that are not closed, the worst first. */
export function MachineAlerts({ machine, alerts }: { machine: string; alerts: Told }) {
	const condition = equals("host.name", machine);
	const more = alerts.all - alerts.first.length;
	return (
		<>
			{alerts.first.map((alert) => (
				<div key={alert.id} className={classes.ofMachine} data-machine-alert={alert.name}>
					<SeverityTicks code={alert.severity} />
					<Link to={alertsOf(condition, alert.id)}>{alert.name}</Link>
					<span className={classes.stateWord}>alert, {alert.state}</span>
				</div>
			))}
			{more > 0 && <Link to={alertsOf(condition)}>and {number(more)} more alerts</Link>}
		</>
	);
}
