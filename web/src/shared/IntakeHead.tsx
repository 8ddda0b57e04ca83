import { Button } from "@mantine/core";
import type { ReactNode } from "react";
import { Link, useLocation } from "react-router";
import classes from "../intake/Intake.module.css";

const PARTS = [
	{ path: "/intake", name: "Sources" },
	{ path: "/intake/unread", name: "Unread lines" },
	{ path: "/intake/parsers", name: "Parsers" },
	{ path: "/intake/noise", name: "Noise" },
	{ path: "/intake/keeping", name: "Keeping" },
	{ path: "/intake/relays", name: "Sending on" },
];

/** The head that all parts of the Intake screen share. */
export function IntakeHead({ children, action }: { children?: ReactNode; action?: ReactNode }) {
	const { pathname } = useLocation();
	const here = [...PARTS].reverse().find(({ path }) => pathname.startsWith(path));
	return (
		<header className={classes.head}>
			<h1>Intake</h1>
			<nav aria-label="Parts of the intake" className={classes.parts}>
				{PARTS.map(({ path, name }) => (
					<Link key={path} to={path} aria-current={here?.path === path ? "page" : undefined}>
						{name}
					</Link>
				))}
			</nav>
			<div className={classes.told}>{children}</div>
			{action}
		</header>
	);
}

/** Says that something was removed, and has it back. */
export function Gone({ children, onUndo }: { children: ReactNode; onUndo: () => void }) {
	return (
		<p className={classes.gone} role="status">
			{children}{" "}
			<Button size="compact-sm" variant="subtle" onClick={onUndo}>
				Undo
			</Button>
		</p>
	);
}
