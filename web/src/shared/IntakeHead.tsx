import { Button } from "@mantine/core";
import type { ReactNode } from "react";
import classes from "../intake/Intake.module.css";
import { type Part, Parts } from "./Parts";

const PARTS: Part[] = [
	{ path: "/intake", name: "Sources", route: "GET /api/feeds" },
	{ path: "/intake/unread", name: "Unread lines", route: "GET /api/patterns" },
	{ path: "/intake/parsers", name: "Parsers", route: "GET /api/parsers" },
	{ path: "/intake/noise", name: "Noise", route: "GET /api/noise-rules" },
	{ path: "/intake/keeping", name: "Keeping", route: "GET /api/keeping" },
	{ path: "/intake/relays", name: "Sending on", route: "GET /api/relays" },
];

/** The head that all parts of the Intake screen share. */
export function IntakeHead({ children, action }: { children?: ReactNode; action?: ReactNode }) {
	return (
		<header className={classes.head}>
			<Parts of="Intake" parts={PARTS} />
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
