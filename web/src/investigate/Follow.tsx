import { Popover } from "@mantine/core";
import { SeverityTicks } from "../shared/severity";
import { clock, number } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Investigate.module.css";
import type { Away } from "./useFollow";

interface Props {
	on: boolean;
	/** Whether the server tells of new lines already. */
	ready: boolean;
	/** Lines that came while a person has scrolled up. */
	waiting: number;
	/** Lines of the last moments that were too many to show. */
	skipped: number;
	/** Lines that noise rules turned away meanwhile. */
	away: Away;
	onSwitch: () => void;
	onEnd: () => void;
}

/** Following new lines: on or off, what waits below, and what was thinned. */
export function Follow({ on, ready, waiting, skipped, away, onSwitch, onEnd }: Props) {
	const { zone } = useZone();
	return (
		<>
			{on && skipped > 0 && waiting === 0 && (
				<span className={classes.thinned} role="status">
					too fast to read: {number(skipped)} more are not drawn
				</span>
			)}
			{on && away.count > 0 && (
				<Popover position="bottom-end" width={560}>
					<Popover.Target>
						<button type="button" className={classes.tool}>
							{number(away.count)} turned away ▾
						</button>
					</Popover.Target>
					<Popover.Dropdown>
						<ul className={classes.away} aria-label="lines that noise rules turned away">
							{[...away.latest].reverse().map((line, index) => (
								<li key={index} title={`${line.rule}: ${line.message}`}>
									<SeverityTicks code={line.severity} /> {clock(line.time_us, zone)} {line.machine} {line.message}
								</li>
							))}
						</ul>
					</Popover.Dropdown>
				</Popover>
			)}
			{on && waiting > 0 && (
				<button type="button" className={classes.waiting} onClick={onEnd}>
					{number(waiting)} new {waiting === 1 ? "line" : "lines"} below ↓
				</button>
			)}
			<button
				type="button"
				className={classes.tool}
				aria-pressed={on}
				aria-busy={on && !ready}
				onClick={onSwitch}
				title="follow new lines (F)"
			>
				{on ? "● following" : "follow"}
			</button>
		</>
	);
}
