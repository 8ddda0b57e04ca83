import { Link } from "react-router";
import { SeverityTicks } from "../shared/severity";
import classes from "./Alerts.module.css";
import { useAlerts } from "./api";

/** The alerts of a machine that are not closed. */
export function MachineAlerts({ machine }: { machine: string }) {
	const { data } = useAlerts({ states: ["open", "taken"], root: "any" });
	const own = data?.alerts.filter((alert) => alert.machine === machine) ?? [];
	return own.map((alert) => (
		<div key={alert.id} className={classes.ofMachine} data-machine-alert={alert.name}>
			<SeverityTicks code={alert.severity} />
			<Link to={`/alerts?${new URLSearchParams({ show: "standing", alert: String(alert.id) })}`}>{alert.name}</Link>
			<span className={classes.stateWord}>alert, {alert.state}</span>
		</div>
	));
}
