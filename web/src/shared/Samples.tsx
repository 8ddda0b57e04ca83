import type { Schemas } from "../api/types";
import classes from "./Samples.module.css";
import { SeverityTicks } from "./severity";
import { clock } from "./time";
import { useZone } from "./zone";

/** Some lines, one below the other, each as far as there is room. */
export function Samples({ lines }: { lines: Schemas["Line"][] }) {
	const { zone } = useZone();
	return (
		<ul className={classes.samples}>
			{lines.map((line) => (
				<li key={line.id} title={line.message}>
					<SeverityTicks code={line.severity} /> {clock(line.time_us, zone)} {line.message}
				</li>
			))}
		</ul>
	);
}
