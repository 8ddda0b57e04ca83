import type { ReactNode } from "react";
import { type Part, Parts } from "../shared/Parts";
import classes from "./Alerts.module.css";

const PARTS: Part[] = [
	{ path: "/alerts", name: "Alerts", route: "GET /api/alerts" },
	{ path: "/alerts/unusual", name: "Unusual", route: "GET /api/unusual" },
	{ path: "/alerts/rules", name: "Rules", route: "GET /api/alert-rules" },
	{ path: "/alerts/quiet", name: "Quiet times", route: "GET /api/alert-quiets" },
	{ path: "/alerts/routes", name: "Routes", route: "GET /api/alert-routes" },
];

/** The head of what is watched for. */
export function AlertsHead({ children }: { children?: ReactNode }) {
	return (
		<header className={classes.head}>
			<Parts of="Alerts" parts={PARTS} />
			{children}
		</header>
	);
}
