import { Button, Switch } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { Fragment, useState } from "react";
import { Link, useNavigate } from "react-router";
import { answer, api } from "../api/client";
import intake from "../intake/Intake.module.css";
import { authors } from "../shared/authors";
import { Gone, IntakeHead } from "../shared/IntakeHead";
import { Allowed } from "../shared/session";
import { SeverityTicks } from "../shared/severity";
import { bytes, clock, day, number } from "../shared/time";
import { useZone } from "../shared/zone";
import { type Action, NOISE, type NoiseRule, useRules } from "./api";
import classes from "./Rules.module.css";

export function does(rule: { action: Action; keep: number }): string {
	return { drop: "drops", thin: `keeps one in ${number(rule.keep)}`, hide: "hides from view" }[rule.action];
}

/** The latest lines that a rule turned away. */
function Latest({ id }: { id: number }) {
	const { zone } = useZone();
	const lines = useQuery({
		queryKey: [NOISE.key, id, "lines"],
		queryFn: ({ signal }) => answer(api.GET("/api/noise-rules/{id}/lines", { params: { path: { id } }, signal })),
		refetchInterval: 5000,
	});
	if (lines.data?.lines.length === 0) return <p className={intake.said}>It has turned nothing away yet.</p>;
	return (
		<ul className={classes.trial}>
			{lines.data?.lines.slice(0, 20).map((line, index) => (
				<li key={index}>
					<span className={classes.message} title={line.message}>
						<SeverityTicks code={line.severity} /> {clock(line.time_us, zone)} {line.machine} {line.message}
					</span>
				</li>
			))}
		</ul>
	);
}

/** All noise rules, with what they took. */
export function NoiseList() {
	const { zone } = useZone();
	const navigate = useNavigate();
	const { list, alter, drop, restore } = useRules(NOISE);
	const [gone, setGone] = useState<NoiseRule | null>(null);
	const [opened, setOpened] = useState<number | null>(null);
	const rules = list.data?.rules ?? [];
	const taken = rules.reduce((sum, rule) => sum + rule.lines, 0);
	return (
		<main className={intake.screen}>
			<IntakeHead
				action={
					<Allowed to="POST /api/noise-rules">
						<Button onClick={() => navigate("/intake/noise/new")}>Make a noise rule</Button>
					</Allowed>
				}
			>
				{rules.length > 0 && (
					<>
						<b>{number(taken)}</b> lines turned away so far
					</>
				)}
			</IntakeHead>
			{list.error && <p className={intake.problem}>{list.error.message}</p>}
			{gone && (
				<Gone onUndo={() => restore.mutate(gone.id, { onSuccess: () => setGone(null) })}>
					“{gone.name}” is removed; from now on its lines come in again.
				</Gone>
			)}
			{list.data && rules.length === 0 && (
				<p className={intake.said}>
					No noise rules yet. A noise rule drops, thins out or hides lines that bring nothing: begin with a pattern in{" "}
					<Link to="/?view=patterns">Investigate</Link>. Each is tried on the last day before it holds.
				</p>
			)}
			{rules.length > 0 && (
				<div className={intake.scroll}>
					<table className={intake.table}>
						<thead>
							<tr>
								<th scope="col">Noise rule</th>
								<th scope="col">takes lines with</th>
								<th scope="col">on</th>
								<th scope="col">lines taken</th>
								<th scope="col">bytes</th>
								<th scope="col">until</th>
								<th scope="col" aria-label="actions" />
							</tr>
						</thead>
						<tbody>
							{rules.map((rule) => (
								<Fragment key={rule.id}>
									<tr className={intake.feed} data-rule={rule.name}>
										<td>
											<strong>{rule.name}</strong>
											<span className={intake.said}>
												{does(rule)}
												{authors(rule)}
											</span>
										</td>
										<td className={classes.find}>
											<Link to={`/?find=${encodeURIComponent(rule.find)}&noise=shown`}>{rule.find}</Link>
										</td>
										<td>
											<Switch
												aria-label={`${rule.name} is on`}
												checked={rule.enabled}
												onChange={(event) => alter.mutate({ id: rule.id, enabled: event.currentTarget.checked })}
											/>
										</td>
										<td className={intake.number}>{rule.action === "hide" ? "" : number(rule.lines)}</td>
										<td className={intake.number}>{rule.action === "hide" ? "" : bytes(rule.bytes)}</td>
										<td className={intake.number}>
											{rule.expires_us === null
												? "no end"
												: `${day(rule.expires_us, zone)} ${clock(rule.expires_us, zone)}`}
											{rule.enabled && !rule.holds && <span className={classes.warned}>has ended</span>}
										</td>
										<td className={intake.actions}>
											{rule.action !== "hide" && (
												<Button
													size="compact-xs"
													variant="subtle"
													aria-expanded={opened === rule.id}
													onClick={() => setOpened(opened === rule.id ? null : rule.id)}
												>
													Latest lines
												</Button>
											)}
											<Allowed to="DELETE /api/noise-rules/{id}">
												<Button
													size="compact-xs"
													variant="subtle"
													onClick={() => drop.mutate(rule.id, { onSuccess: () => setGone(rule) })}
												>
													Remove
												</Button>
											</Allowed>
										</td>
									</tr>
									{opened === rule.id && (
										<tr>
											<td colSpan={7}>
												<Latest id={rule.id} />
											</td>
										</tr>
									)}
								</Fragment>
							))}
						</tbody>
					</table>
				</div>
			)}
		</main>
	);
}
