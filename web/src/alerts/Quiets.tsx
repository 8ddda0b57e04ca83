import { Button } from "@mantine/core";
import { useState } from "react";
import { authors } from "../shared/authors";
import { Gone } from "../shared/IntakeHead";
import { Allowed } from "../shared/session";
import { clock, day, duration } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Alerts.module.css";
import { AlertsHead } from "./AlertsHead";
import { type Quiet, useQuiets } from "./api";
import { hoursInWords } from "./hours";
import { WindowForm } from "./WindowForm";

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
									{quiet.hours && ` ${hoursInWords(quiet.hours)} ${quiet.hours.zone ?? "UTC"}`}
									{quiet.entries && (
										<>
											{" "}
											for {duration(quiet.lasts_us ?? 0)} whenever the logbook tells {quiet.entries.join(" or ")}
											{quiet.says && ` (“${quiet.says}”)`}
										</>
									)}
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
