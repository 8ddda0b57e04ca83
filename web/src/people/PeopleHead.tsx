import type { ReactNode } from "react";
import { type Part, Parts } from "../shared/Parts";
import classes from "./People.module.css";

const PARTS: Part[] = [
	{ path: "/people", name: "People and tokens", route: "GET /api/people" },
	{ path: "/people/teams", name: "Teams", route: "GET /api/teams" },
	{ path: "/people/settings", name: "Settings", route: "GET /api/settings" },
	{ path: "/people/audit", name: "Audit trail", route: "GET /api/audit" },
];

/** The head of what administrators look after. */
export function PeopleHead({ children }: { children?: ReactNode }) {
	return (
		<header className={classes.head}>
			<Parts of="People" parts={PARTS} />
			{children}
		</header>
	);
}
