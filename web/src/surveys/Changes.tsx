import type { Changed } from "../api/types";
import { number } from "../shared/time";
import classes from "./Survey.module.css";

/** "4.2× more", "new", "as before" */
export function changeName({ count, expected, change }: Changed & { count: number }, firstTime = false): string {
	if (change === "new") return firstTime ? "first time" : "new";
	if (change === "gone") return "gone";
	if (change === "same" || !expected) return "as before";
	const ratio = count > expected ? count / expected : expected / count;
	return `${ratio < 10 ? ratio.toFixed(1) : number(Math.round(ratio))}× ${change}`;
}

/** How one count changed against the other side. */
export function Change({ row, firstTime }: { row: Changed & { count: number }; firstTime?: boolean }) {
	const title = `${number(row.before ?? 0)} on the other side, which is ${number(row.expected ?? 0)} at the length of this one; p = ${row.log10_p === 0 ? "1" : `10^${row.log10_p}`} after correction`;
	return (
		<span className={classes.change} data-change={row.change ?? undefined} title={title}>
			{changeName(row, firstTime)}
		</span>
	);
}

/** "; against the day before 18 new, 3 gone" */
export function Tally({ changes, name }: { changes: Record<string, number | undefined>; name: string }) {
	const told = ["new", "gone", "more", "less"].filter((change) => changes[change]);
	return (
		<>
			{`; against ${name} `}
			{told.length ? (
				told.map((change) => (
					<span key={change} className={classes.change} data-change={change}>
						{number(changes[change] ?? 0)} {change}
					</span>
				))
			) : (
				<span className={classes.change}>nothing changed</span>
			)}
		</>
	);
}
