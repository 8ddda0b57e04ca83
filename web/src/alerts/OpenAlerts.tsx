import { useEffect } from "react";
import { number } from "../shared/time";
import classes from "./Alerts.module.css";
import { useAlerts } from "./api";

/** How many alerts nobody has taken. */
export function OpenAlerts() {
	const { data } = useAlerts({ states: ["open"], quiet: "no" });
	const open = data?.counts.open ?? 0;
	// Who looks at another tab sees it there.
	useEffect(() => {
		document.title = open > 0 ? `(${open}) Northdrift` : "Northdrift";
	}, [open]);
	if (open === 0) return null;
	return (
		<b className={classes.badge} data-open-alerts>
			{" "}
			{number(open)}
		</b>
	);
}
