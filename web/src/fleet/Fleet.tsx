import { Button, SegmentedControl, TextInput } from "@mantine/core";
import { Fragment, useMemo, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { MachineAlerts } from "../alerts/MachineAlerts";
import { changesBefore, evidence } from "../shared/evidence";
import { equals } from "../shared/question";
import { Strip } from "../shared/Strip";
import { Allowed } from "../shared/session";
import { SeverityTicks } from "../shared/severity";
import { duration, number, toIso } from "../shared/time";
import type { Clock } from "../surveys/clocks";
import { useSurvey } from "../surveys/useSurvey";
import { type By, grouped, type Machine, useFleet, worst } from "./api";
import classes from "./Fleet.module.css";
import { FleetTabs } from "./FleetTabs";
import { MachineDialog } from "./MachineDialog";

const MOST_PROBLEMS = 2;
const SECOND_US = 1_000_000;
const HOUR_US = 3600 * SECOND_US;

/** Whole seconds: what is told again every few seconds need not be exact. */
const ago = (us: number) => duration(Math.max(Math.ceil(us / SECOND_US), 1) * SECOND_US);

function ClockCell({ clock }: { clock: Clock | undefined }) {
	if (!clock || (clock.exchanges === 0 && clock.stepped_us === null))
		return <span className={classes.second}>not known</span>;
	if (Math.abs(clock.offset_us) < SECOND_US) return <span className={classes.second}>in step</span>;
	return (
		<b className={classes.silent}>
			{duration(Math.abs(clock.offset_us))} {clock.offset_us < 0 ? "slow" : "fast"}
		</b>
	);
}

function Row({
	machine,
	startUs,
	toUs,
	clock,
	onEdit,
}: {
	machine: Machine;
	startUs: number;
	toUs: number;
	clock: Clock | undefined;
	onEdit: () => void;
}) {
	const lines = `/?${new URLSearchParams({ chip: equals("host.name", machine.machine), from: toIso(startUs), to: toIso(toUs) })}`;
	const bad = worst(machine);
	return (
		<tr data-machine={machine.machine}>
			<td>
				<Link to={lines}>{machine.machine}</Link>
				<span className={classes.second}>
					{[machine.role, machine.runs_on && `on ${machine.runs_on}`].filter(Boolean).join(", ")}
				</span>
			</td>
			<td>
				<Strip strip={machine.strip} startUs={startUs} label={`lines of ${machine.machine} by hour`} />
			</td>
			<td className={classes.number}>
				{machine.heard_us === null ? (
					<span className={classes.second}>no line ever</span>
				) : (
					`${ago(toUs - machine.heard_us)} ago`
				)}
				{machine.silent_us !== null && <span className={classes.silent}>silent, unlike itself</span>}
			</td>
			<td>
				<MachineAlerts machine={machine.machine} alerts={machine.alerts} />
				{bad === null && <span className={classes.second}>nothing open</span>}
				{machine.problems.slice(0, MOST_PROBLEMS).map((one) => (
					<div key={one.id} className={classes.trouble}>
						<SeverityTicks code={one.severity} />
						<Link to={evidence(one)}>{one.says}</Link>
						{one.times > 1 && <span className={classes.second}>{number(one.times)} times</span>}
						<Link to={changesBefore(one)} title="what changed before it">
							why
						</Link>
					</div>
				))}
				{machine.problems.length > MOST_PROBLEMS && (
					<Link to={`/logbook?${new URLSearchParams({ machine: machine.machine })}`}>
						and {number(machine.problems.length - MOST_PROBLEMS)} more
					</Link>
				)}
			</td>
			<td className={classes.number}>
				{machine.restarts > 0 && <Link to="/logbook/restarts">{number(machine.restarts)}</Link>}
			</td>
			<td>
				<ClockCell clock={clock} />
			</td>
			<td className={classes.second}>
				{Object.entries(machine.versions)
					.map(([what, version]) => `${what} ${version}`)
					.join(", ")}
			</td>
			<td>
				<Allowed to="PUT /api/fleet/machines/{name}">
					<Button variant="subtle" size="compact-xs" onClick={onEdit} aria-label={`change ${machine.machine}`}>
						change
					</Button>
				</Allowed>
			</td>
		</tr>
	);
}

/** All machines, found by their lines: how they are, grouped by what people say of them. */
export function Fleet() {
	const [params, setParams] = useSearchParams();
	const by = (params.get("by") ?? "site") as By;
	const words = params.get("text") ?? "";
	const { data: pages, error, hasNextPage, fetchNextPage, isFetchingNextPage } = useFleet(by, words.trim());
	const data = pages?.pages[0];
	const groups = useMemo(() => grouped(pages?.pages.flatMap((page) => page.rows) ?? []), [pages]);
	const [edited, setEdited] = useState<Machine | null>(null);
	// By the hour, so that it is not worked out anew with every line.
	const hour = data ? Math.floor(data.to_us / HOUR_US) * HOUR_US : 0;
	const clocks = useSurvey<{ clocks: Clock[] }>(
		"/api/clocks",
		new URLSearchParams({ from: String(hour - 24 * HOUR_US), to: String(hour + HOUR_US) }),
		hour > 0,
	);
	const set = (name: string, value: string) =>
		setParams(
			(now) => {
				const next = new URLSearchParams(now);
				if (value) next.set(name, value);
				else next.delete(name);
				return next;
			},
			{ replace: true },
		);
	return (
		<main className={classes.screen}>
			<FleetTabs>
				<SegmentedControl
					size="xs"
					aria-label="Grouped by"
					value={by}
					onChange={(value) => set("by", value)}
					data={[
						{ value: "site", label: "by site" },
						{ value: "role", label: "by role" },
						{ value: "tag", label: "by tag" },
					]}
				/>
				<TextInput
					aria-label="Search the machines"
					placeholder="a name, a role"
					defaultValue={words}
					onChange={(event) => set("text", event.currentTarget.value)}
					w={160}
				/>
				<p role="status" className={classes.told}>
					{data && (
						<>
							<b>{number(data.machines)}</b> machines, <b>{number(data.ill)}</b> with problems,{" "}
							<b>{number(data.silent)}</b> silent
						</>
					)}
				</p>
			</FleetTabs>
			{error && <p className={classes.problem}>{error.message}</p>}
			{data?.machines === 0 && (
				<p className={classes.empty}>
					{words.trim()
						? `No machine matches “${words.trim()}”.`
						: "No machine has written a line yet. Machines are found by themselves from what they write."}
				</p>
			)}
			{data && data.machines > 0 && (
				<div className={classes.scroll}>
					<table className={classes.table}>
						<thead>
							<tr>
								<th scope="col">machine</th>
								<th scope="col">last 24 hours</th>
								<th scope="col" className={classes.number}>
									last line
								</th>
								<th scope="col">open problems</th>
								<th scope="col" className={classes.number} title="in the last ten days">
									restarts
								</th>
								<th
									scope="col"
									title="in the last 24 hours, by what it exchanged with others and by what its log tells"
								>
									clock
								</th>
								<th scope="col">versions seen</th>
								<th scope="col" aria-label="actions" />
							</tr>
						</thead>
						<tbody>
							{groups.map((own) => {
								const name = own[0]?.group ?? null;
								return (
									<Fragment key={name}>
										<tr className={classes.group}>
											<td colSpan={8}>
												<h2>
													{name === null ? (
														`no ${by} is said`
													) : (
														<Link
															to={`/?${new URLSearchParams({ chip: equals(by === "tag" ? "host.tags" : `host.${by}`, name) })}`}
														>
															{name}
														</Link>
													)}{" "}
													<span className={classes.second}>{number(own[0]?.group_machines ?? 0)}</span>
												</h2>
											</td>
										</tr>
										{own.map(({ machine }) => (
											<Row
												key={machine.machine}
												machine={machine}
												startUs={data.start_us}
												clock={clocks.answer?.clocks.find((one) => one.machine === machine.machine)}
												toUs={data.to_us}
												onEdit={() => setEdited(machine)}
											/>
										))}
									</Fragment>
								);
							})}
						</tbody>
					</table>
					{hasNextPage && (
						<p className={classes.further}>
							<Button variant="default" loading={isFetchingNextPage} onClick={() => fetchNextPage()}>
								Show more machines
							</Button>
						</p>
					)}
				</div>
			)}
			{edited && <MachineDialog machine={edited} onClose={() => setEdited(null)} />}
		</main>
	);
}
