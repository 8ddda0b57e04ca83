import { Link } from "react-router";
import { percent, share } from "../fleet/availability";
import { equals } from "../shared/question";
import { duration, number, toIso } from "../shared/time";
import classes from "./Boards.module.css";
import type { KindProps } from "./kinds";

const AROUND_US = 300_000_000;

/** How long machines were up; what was down or silent leads to the lines around it. */
export function AvailabilityCard({ answer }: KindProps) {
	const { groups = [], others = 0 } = answer.availability ?? {};
	const all = share(groups);
	if (groups.length === 0) return <p className={classes.hint}>No machine said anything in this time.</p>;
	return (
		<>
			<p className={classes.one}>{percent(all.up, all.known)}</p>
			<table className={classes.groups}>
				<tbody>
					{groups.map((group) => {
						const own = share([group]);
						const [worst] = [...group.stretches].sort(
							(one, other) => other.to_us - other.from_us - (one.to_us - one.from_us),
						);
						return (
							<tr key={group.name ?? ""}>
								<td>{group.name ?? "not set"}</td>
								<td className={classes.text}>
									{worst && (
										<Link
											to={`/?${new URLSearchParams({
												chip: equals("host.name", worst.machine),
												from: toIso(worst.from_us - AROUND_US),
												to: toIso(worst.to_us + AROUND_US),
											})}`}
										>
											{worst.machine} {worst.state} {duration(worst.to_us - worst.from_us)}
										</Link>
									)}
								</td>
								<td className={classes.figure}>{percent(own.up, own.known)}</td>
							</tr>
						);
					})}
				</tbody>
			</table>
			{others > 0 && <p className={classes.hint}>{number(others)} more are not shown</p>}
		</>
	);
}
