import { Link } from "react-router";
import { SeverityTicks } from "../shared/severity";
import { clock, day, number } from "../shared/time";
import { useZone } from "../shared/zone";
import type { Item, Section } from "./api";
import classes from "./Handover.module.css";

/** What stands in the place of an empty section. */
const NONE: Record<string, string> = {
	opened: "No alert was raised.",
	closed: "No alert was closed.",
	standing: "No alert stands open.",
	changes: "No known change was logged.",
	restarts: "Nothing restarted.",
	silences: "No machine went silent.",
	fresh: "Nothing that was never there before.",
	volumes: "Volumes are as usual.",
	watch: "Nothing is muted, planned or unusual.",
	ending: "No certificate or disk is known to end soon.",
};

function Row({ item }: { item: Item }) {
	const { zone } = useZone();
	return (
		<tr>
			<td className={classes.time}>
				{day(item.at_us, zone)} {clock(item.at_us, zone).slice(0, 5)}
			</td>
			<td>{item.severity !== null && <SeverityTicks code={item.severity} />}</td>
			<td className={classes.machine}>{item.machine}</td>
			<td className={classes.says}>
				<Link to={item.to}>{item.says}</Link>
				{item.more && <span className={classes.more}> · {item.more}</span>}
			</td>
		</tr>
	);
}

/** What the next shift must know, section by section; each item leads to its lines. */
export function Sections({ sections }: { sections: Section[] }) {
	const full = sections.filter(({ total }) => total > 0);
	const empty = sections.filter(({ total }) => total === 0);
	return (
		<>
			{full.map(({ key, title, total, items }) => (
				<section key={key} className={classes.section} data-section={key}>
					<h2>
						{title} <span className={classes.count}>{number(total)}</span>
					</h2>
					<table>
						<tbody>
							{items.map((item, index) => (
								<Row key={`${item.at_us} ${index}`} item={item} />
							))}
						</tbody>
					</table>
					{total > items.length && (
						<p className={classes.more}>
							the first {number(items.length)} of {number(total)}
						</p>
					)}
				</section>
			))}
			{empty.length > 0 && (
				<section className={classes.section} data-section="nothing">
					<h2>{full.length > 0 ? "Otherwise" : "A quiet shift"}</h2>
					<p className={classes.more}>{empty.map(({ key }) => NONE[key]).join(" ")}</p>
				</section>
			)}
		</>
	);
}
