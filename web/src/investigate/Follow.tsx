import { number } from "../shared/time";
import classes from "./Investigate.module.css";

interface Props {
	on: boolean;
	/** Lines that came while a person has scrolled up. */
	waiting: number;
	/** Lines of the last moment that were too many to show. */
	skipped: number;
	onSwitch: () => void;
	onEnd: () => void;
}

/** Following new lines: on or off, what waits below, and what was thinned. */
export function Follow({ on, waiting, skipped, onSwitch, onEnd }: Props) {
	return (
		<>
			{on && skipped > 0 && waiting === 0 && (
				<span className={classes.thinned} role="status">
					too fast to read: {number(skipped)} more are not drawn
				</span>
			)}
			{on && waiting > 0 && (
				<button type="button" className={classes.waiting} onClick={onEnd}>
					{number(waiting)} new {waiting === 1 ? "line" : "lines"} below ↓
				</button>
			)}
			<button type="button" className={classes.tool} aria-pressed={on} onClick={onSwitch} title="follow new lines (F)">
				{on ? "● following" : "follow"}
			</button>
		</>
	);
}
