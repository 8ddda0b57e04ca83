import type { ReactNode } from "react";
import { Link, useLocation } from "react-router";
import classes from "./People.module.css";

const PARTS = [
	{ path: "/people", name: "People and tokens" },
	{ path: "/people/audit", name: "Audit trail" },
];

/** The head of what administrators look after. */
export function PeopleHead({ children }: { children?: ReactNode }) {
	const { pathname } = useLocation();
	return (
		<header className={classes.head}>
			<h1>People</h1>
			<nav aria-label="Parts of the people screen" className={classes.parts}>
				{PARTS.map(({ path, name }) => (
					<Link key={path} to={path} aria-current={pathname === path ? "page" : undefined}>
						{name}
					</Link>
				))}
			</nav>
			{children}
		</header>
	);
}
