import { number } from "../shared/time";
import classes from "./Alerts.module.css";
import { useAlerts } from "./api";

/** How many alerts nobody has taken. */
export function OpenAlerts() {
	const { data } = useAlerts(["open"]);
	if (!data?.counts.open) return null;
	return (
		<b className={classes.badge} data-open-alerts>
			{" "}
			{number(data.counts.open)}
		</b>
	);
}
