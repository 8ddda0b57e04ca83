import { SegmentedControl } from "@mantine/core";
import { Link } from "react-router";
import { exactly, windowOf, write } from "../shared/question";
import { Strip } from "../shared/Strip";
import { SeverityTicks } from "../shared/severity";
import { clock } from "../shared/time";
import { useZone } from "../shared/zone";
import { type By, type NowStrip, useStrips } from "./api";
import classes from "./Now.module.css";

const FIELDS: Record<By, string> = { service: "service.name", machine: "host.name" };
const FEW = 2;
const WARNING = 4;

interface RowProps {
	strip: NowStrip;
	by: By;
	startUs: number;
	stepUs: number;
}

function Row({ strip, by, startUs, stepUs }: RowProps) {
	const { zone } = useZone();
	const { line, machines } = strip;
	const toUs = startUs + strip.counts.length * stepUs;
	const question = { ...windowOf(startUs, toUs), find: exactly(FIELDS[by], strip.name) };
	const where = machines.length > FEW ? `${machines.length} machines` : machines.join(", ");
	return (
		<tr data-strip={strip.name}>
			<th scope="row">
				<Link to={`/?${write(question)}`}>{strip.name}</Link>
				{by === "service" && <span>{where}</span>}
			</th>
			<td>
				<Strip
					strip={strip.counts}
					startUs={startUs}
					stepUs={stepUs}
					wide={4}
					label={`lines of ${strip.name} by half hour`}
				/>
			</td>
			<td>{line && <SeverityTicks code={line.severity} />}</td>
			<td className={classes.line}>
				{line && (
					<Link to={`/?${write({ ...question, line: line.id })}`} title={line.message}>
						{line.message}
					</Link>
				)}
			</td>
			<td className={classes.when} data-bad={(line && line.severity <= WARNING) || undefined}>
				{line && clock(line.time_us, zone).slice(0, 5)}
			</td>
		</tr>
	);
}

/** Services or machines over the last day, with their latest worst line; those that were bad last come first. */
export function Strips({ by, onBy }: { by: By; onBy: (by: By) => void }) {
	const { data, error } = useStrips(by);
	return (
		<section aria-label="The last day">
			<div className={classes.title}>
				<h2>The last 24 hours</h2>
				<SegmentedControl
					aria-label="Strips of"
					size="xs"
					data={[
						{ value: "service", label: "services" },
						{ value: "machine", label: "machines" },
					]}
					value={by}
					onChange={(value) => onBy(value as By)}
				/>
				<span>half an hour a bar, with the latest of the worst lines</span>
			</div>
			{error && <p role="alert">{error.message}</p>}
			<table className={classes.strips}>
				<tbody>
					{data?.strips.map((strip) => (
						<Row key={strip.name} strip={strip} by={by} startUs={data.start_us} stepUs={data.step_us} />
					))}
				</tbody>
			</table>
		</section>
	);
}
