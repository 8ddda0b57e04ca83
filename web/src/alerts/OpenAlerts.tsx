import { useEffect } from "react";
import { useNavigate } from "react-router";
import { number } from "../shared/time";
import classes from "./Alerts.module.css";
import { useAlerts } from "./api";
import { useNoticesOf } from "./notices";

/** How many alerts nobody has taken. */
export function OpenAlerts() {
	const { data } = useAlerts({ states: ["open"], quiet: "no" });
	const open = data?.counts.open ?? 0;
	const navigate = useNavigate();
	useNoticesOf(data?.alerts, (id) => navigate(`/alerts?alert=${id}`));
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
