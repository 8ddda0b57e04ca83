import type { ReactNode } from "react";
import { type Part, Parts } from "../shared/Parts";
import classes from "./Boards.module.css";

const PARTS: Part[] = [
	{ path: "/boards", name: "All boards", route: "GET /api/boards" },
	{ path: "/handover", name: "Handover", route: "GET /api/handovers/summary" },
];

/** The head of what one keeps an eye on and hands on. */
export function BoardsHead({ children }: { children?: ReactNode }) {
	return (
		<header className={classes.head}>
			<Parts of="Boards" parts={PARTS} />
			{children}
		</header>
	);
}
