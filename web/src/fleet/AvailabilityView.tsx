import { SegmentedControl } from "@mantine/core";
import { Fragment, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { alertsOf } from "../alerts/MachineAlerts";
import { PutOnBoard } from "../cards/PutOnBoard";
import { equals, quote } from "../shared/question";
import { SeverityTicks } from "../shared/severity";
import { clock, day, duration, number, toIso } from "../shared/time";
import { useZone } from "../shared/zone";
import { type Group, type Stretch, useAvailability } from "./api";
import { percent, share } from "./availability";
import classes from "./Fleet.module.css";
import { FleetTabs } from "./FleetTabs";

const DAYS = 10;
/** Of what machines are put together by. */
const FIELDS: Record<string, string> = { site: "host.site", role: "host.role", tag: "host.tags" };
const AROUND_US = 300_000_000;

/** A find text for the machines of a group. */
function condition({ name, machines }: Group, by: string): string {
	if (name === null) return `host.name in (${machines.map(quote).join(", ")})`;
	return equals(FIELDS[by] ?? "host.name", name);
}

function Cell({ one }: { one: Group["days"][number] }) {
	if (one.known_us === 0) return <td className={classes.second}>–</td>;
	const words = `up ${percent(one.up_us, one.known_us)}, down ${duration(one.down_us)}, silent ${duration(one.silent_us)}, of ${duration(one.known_us)} of all its machines`;
	return (
		<td title={words} className={classes.number}>
			{percent(one.up_us, one.known_us)}
			<span className={classes.bar} role="img" aria-label={words}>
				<i data-state="up" style={{ flexGrow: one.up_us }} />
				<i data-state="silent" style={{ flexGrow: one.silent_us }} />
				<i data-state="down" style={{ flexGrow: one.down_us }} />
			</span>
		</td>
	);
}

function Causes({ stretches }: { stretches: Stretch[] }) {
	const { zone } = useZone();
	if (stretches.length === 0) return <p className={classes.second}>None of its machines was down or silent.</p>;
	return (
		<ul className={classes.plain}>
			{stretches.map((one) => (
				<li key={`${one.machine} ${one.from_us} ${one.state}`} data-stretch={one.state}>
					<span>
						{one.state === "down" ? "▼ down" : "– silent"} <b>{one.machine}</b>, {day(one.from_us, zone)}{" "}
						{clock(one.from_us, zone)}, for {duration(one.to_us - one.from_us)}: {one.says}
					</span>
					<Link
						to={`/?${new URLSearchParams({ chip: equals("host.name", one.machine), from: toIso(one.from_us - AROUND_US), to: toIso(one.to_us + AROUND_US), ...(one.happening ? { line: one.happening } : {}) })}`}
					>
						lines
					</Link>
				</li>
			))}
		</ul>
	);
}

/** How many alerts of its machines stand open, by the worst of them. */
function GroupAlerts({ group, by }: { group: Group; by: string }) {
	const [first] = group.alerts.first;
	if (!first) return null;
	const words = `${number(group.alerts.all)} ${group.alerts.all === 1 ? "alert" : "alerts"}`;
	return (
		<Link
			to={alertsOf(condition(group, by))}
			className={classes.groupAlerts}
			data-group-alerts={group.name ?? ""}
			title={`the worst: ${first.name}`}
		>
			<SeverityTicks code={first.severity} /> {words}
		</Link>
	);
}

/** Up, down and silent per day, by group, down to what caused it. */
export function AvailabilityView() {
	const { zone } = useZone();
	const [params, setParams] = useSearchParams();
	const by = params.get("by") ?? "site";
	const [opened, setOpened] = useState<string | null>(null);
	const { data, error } = useAvailability(by, DAYS, zone);
	const days = data?.groups[0]?.days.map((one) => one.day_us) ?? [];
	return (
		<main className={classes.screen}>
			<FleetTabs>
				<SegmentedControl
					size="xs"
					aria-label="Grouped by"
					value={by}
					onChange={(value) => setParams({ by: value }, { replace: true })}
					data={["site", "role", "tag", "machine"].map((value) => ({ value, label: `by ${value}` }))}
				/>
				<PutOnBoard query={`by=${by}`} drawing="availability" title={`Availability by ${by}`} />
			</FleetTabs>
			{error && <p className={classes.problem}>{error.message}</p>}
			{data && (
				<div className={classes.scroll}>
					<p className={classes.method}>
						{day(data.from_us, zone)} {clock(data.from_us, zone)} to {day(data.to_us, zone)} {clock(data.to_us, zone)}.
						Share of the time of all machines of a group since their first line. <i>Down</i>: from the last line before
						a start to that start. <i>Silent</i>: no line for ten minutes and more where there normally are some, beside
						what was down. <i>Up</i>: the rest. Days are those of {zone}.
					</p>
					<table className={classes.table}>
						<thead>
							<tr>
								<th scope="col">{by}</th>
								{days.map((us) => (
									<th key={us} scope="col" className={classes.number}>
										{day(us, zone)}
									</th>
								))}
								<th scope="col" className={classes.number}>
									all
								</th>
							</tr>
						</thead>
						<tbody>
							{data.groups.map((group) => {
								const name = group.name ?? `no ${by} is said`;
								const whole = share([group]);
								return (
									<Fragment key={name}>
										<tr data-group={name}>
											<td>
												<button
													type="button"
													className="plain"
													aria-expanded={opened === name}
													onClick={() => setOpened(opened === name ? null : name)}
												>
													<span aria-hidden>{opened === name ? "▾" : "▸"}</span> {name}
												</button>
												{by !== "machine" && (
													<span className={classes.second}>{number(group.machines.length)} machines</span>
												)}
												<GroupAlerts group={group} by={by} />
											</td>
											{group.days.map((one) => (
												<Cell key={one.day_us} one={one} />
											))}
											<td className={classes.number}>
												<b>{percent(whole.up, whole.known)}</b>
											</td>
										</tr>
										{opened === name && (
											<tr>
												<td colSpan={days.length + 2}>
													<Causes stretches={group.stretches} />
												</td>
											</tr>
										)}
									</Fragment>
								);
							})}
						</tbody>
					</table>
					{data.others > 0 && (
						<p className={classes.further}>{number(data.others)} more are not shown; see them by site, role or tag.</p>
					)}
				</div>
			)}
		</main>
	);
}
