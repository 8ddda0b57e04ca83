import { Button, Modal, TextInput } from "@mantine/core";
import { DateTimePicker } from "@mantine/dates";
import { useState } from "react";
import { Problem } from "../api/client";
import { authors } from "../shared/authors";
import { Gone } from "../shared/IntakeHead";
import { Allowed } from "../shared/session";
import { clock, day, fromWall, wall } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Alerts.module.css";
import { AlertsHead } from "./AlertsHead";
import { type Quiet, useQuiets } from "./api";

const HOUR_US = 3_600_000_000;

function WindowForm({ onClose }: { onClose: () => void }) {
	const { zone } = useZone();
	const { add } = useQuiets();
	const [find, setFind] = useState("");
	const [why, setWhy] = useState("");
	const [from, setFrom] = useState(() => Date.now() * 1000);
	const [until, setUntil] = useState(() => Date.now() * 1000 + 2 * HOUR_US);
	const unfit = add.error instanceof Problem ? (add.error.details.parameter ?? "find") : undefined;
	return (
		<Modal opened onClose={onClose} title="New maintenance window" size="lg">
			<form
				className={classes.form}
				onSubmit={(event) => {
					event.preventDefault();
					add.mutate(
						{ kind: "maintenance", find, why: why.trim(), from_us: from, until_us: until },
						{ onSuccess: onClose },
					);
				}}
			>
				<TextInput
					label="Machines"
					description="a find text on the machine, its site or tags"
					placeholder="host.site = auk"
					classNames={{ input: classes.code }}
					value={find}
					error={unfit === "find" ? add.error?.message : undefined}
					onChange={(event) => setFind(event.currentTarget.value)}
					data-autofocus
				/>
				<div className={classes.pair}>
					<DateTimePicker
						label="From"
						valueFormat="D MMM YYYY HH:mm"
						value={wall(from, zone)}
						onChange={(value) => value && setFrom(fromWall(value, zone))}
						popoverProps={{ withinPortal: false }}
					/>
					<DateTimePicker
						label="Until"
						valueFormat="D MMM YYYY HH:mm"
						value={wall(until, zone)}
						error={unfit === "until_us" ? add.error?.message : undefined}
						onChange={(value) => value && setUntil(fromWall(value, zone))}
						popoverProps={{ withinPortal: false }}
					/>
				</div>
				<TextInput
					label="Why"
					placeholder="new cables at Little Auk"
					value={why}
					onChange={(event) => setWhy(event.currentTarget.value)}
				/>
				{add.error && unfit !== "find" && unfit !== "until_us" && (
					<p className={classes.problem} role="alert">
						{add.error.message}
					</p>
				)}
				<Button type="submit" loading={add.isPending}>
					Save
				</Button>
			</form>
		</Modal>
	);
}

/** What is muted and what is planned. */
export function Quiets() {
	const { zone } = useZone();
	const { list, end, restore } = useQuiets();
	const [adding, setAdding] = useState(false);
	const [gone, setGone] = useState<Quiet | null>(null);
	const problem = list.error ?? end.error ?? restore.error;
	const quiets = list.data?.quiets ?? [];
	const moment = (us: number) => `${day(us, zone)} ${clock(us, zone)}`;
	return (
		<main className={classes.list}>
			<AlertsHead>
				<Allowed to="POST /api/alert-quiets">
					<Button size="compact-md" onClick={() => setAdding(true)}>
						New maintenance window
					</Button>
				</Allowed>
			</AlertsHead>
			{problem && (
				<p className={classes.problem} role="alert">
					{problem.message}
				</p>
			)}
			{gone && <Gone onUndo={() => restore.mutate(gone.id, { onSuccess: () => setGone(null) })}>It is ended.</Gone>}
			{list.data && quiets.length === 0 && (
				<p className={classes.hint}>
					Everything is told. Enter planned work as a maintenance window, or mute an alert: it is raised all the same,
					and nobody is told.
				</p>
			)}
			{quiets.length > 0 && (
				<table className={classes.table}>
					<thead>
						<tr>
							<th scope="col">what</th>
							<th scope="col">from</th>
							<th scope="col">until</th>
							<th scope="col">why</th>
							<th scope="col" aria-label="actions" />
						</tr>
					</thead>
					<tbody>
						{quiets.map((quiet) => (
							<tr key={quiet.id} data-quiet-time={quiet.kind}>
								<td>
									<b>{quiet.kind === "mute" ? "Muted" : "Maintenance"}</b> {quiet.rule ? `“${quiet.rule}” ` : ""}
									{quiet.find && <code>{quiet.find}</code>}
									<span className={classes.second}>{authors(quiet).slice(3)}</span>
								</td>
								<td className={classes.time}>{moment(quiet.from_us)}</td>
								<td className={classes.time}>{quiet.until_us ? moment(quiet.until_us) : "somebody ends it"}</td>
								<td>{quiet.why}</td>
								<td className={classes.actionsCell}>
									<Allowed to="DELETE /api/alert-quiets/{id}">
										<Button
											size="compact-xs"
											variant="subtle"
											onClick={() => end.mutate(quiet.id, { onSuccess: () => setGone(quiet) })}
										>
											End
										</Button>
									</Allowed>
								</td>
							</tr>
						))}
					</tbody>
				</table>
			)}
			{adding && <WindowForm onClose={() => setAdding(false)} />}
		</main>
	);
}
