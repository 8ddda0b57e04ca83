import { Button, Menu, Switch } from "@mantine/core";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Schemas } from "../api/types";
import { authors } from "../shared/authors";
import { Gone } from "../shared/IntakeHead";
import { More } from "../shared/More";
import { Allowed, useBarred } from "../shared/session";
import { number } from "../shared/time";
import classes from "./Alerts.module.css";
import { AlertsHead } from "./AlertsHead";
import { type AlertRule, type Definition, useAlertRules } from "./api";
import { inWords } from "./definition";

interface ShippedProps {
	families: Schemas["AlertRules"]["shipped"];
	onSwitch: (definition: Definition) => void;
}

/** Rules that come with it, off until they are switched on. */
function Shipped({ families, onSwitch }: ShippedProps) {
	const barred = useBarred("POST /api/alert-rules");
	return (
		<section aria-label="Ready-made rules" className={classes.shipped}>
			<h2>Ready-made rules</h2>
			{families
				.filter(({ definitions }) => definitions.length > 0)
				.map(({ title, definitions }) => (
					<section key={title}>
						<h3>{title}</h3>
						<table className={classes.table}>
							<tbody>
								{definitions.map((definition) => (
									<tr key={definition.id} data-shipped={definition.name}>
										<td>
											<b>{definition.name}</b>
											<span className={classes.second}>{definition.why}</span>
										</td>
										<td>
											<code>{inWords(definition)}</code>
										</td>
										<td>{definition.severity}</td>
										<td className={classes.actionsCell}>
											<Button size="compact-xs" variant="default" {...barred} onClick={() => onSwitch(definition)}>
												Switch on
											</Button>
										</td>
									</tr>
								))}
							</tbody>
						</table>
					</section>
				))}
		</section>
	);
}

/** What is watched for. */
export function AlertRules() {
	const navigate = useNavigate();
	const { list, keep, turn, drop, restore } = useAlertRules();
	const barred = useBarred("DELETE /api/alert-rules/{id}");
	const [gone, setGone] = useState<AlertRule | null>(null);
	const rules = list.data?.rules ?? [];
	const problem = list.error ?? keep.error ?? turn.error ?? drop.error ?? restore.error;
	return (
		<main className={classes.list}>
			<AlertsHead>
				<Allowed to="POST /api/alert-rules">
					<Button size="compact-md" onClick={() => navigate("/alerts/rules/new")}>
						New alert rule
					</Button>
				</Allowed>
			</AlertsHead>
			{problem && (
				<p className={classes.problem} role="alert">
					{problem.message}
				</p>
			)}
			{gone && (
				<Gone onUndo={() => restore.mutate(gone.id, { onSuccess: () => setGone(null) })}>
					“{gone.name}” is deleted.
				</Gone>
			)}
			{list.data && rules.length === 0 && (
				<p className={classes.hint}>
					No alert rules yet. Find the line that explains a trouble in <Link to="/">Investigate</Link>, then Make →
					Alert rule: it is tried on the past before it is switched on.
				</p>
			)}
			{rules.length > 0 && (
				<table className={classes.table}>
					<thead>
						<tr>
							<th scope="col">rule</th>
							<th scope="col">condition</th>
							<th scope="col">severity</th>
							<th scope="col">on</th>
							<th scope="col" className={classes.number}>
								open
							</th>
							<th scope="col" aria-label="actions" />
						</tr>
					</thead>
					<tbody>
						{rules.map((rule) => (
							<tr key={rule.id} data-rule={rule.name}>
								<td>
									<Link to={`/alerts/rules/${rule.id}`}>{rule.name}</Link>
									<span className={classes.second}>{authors(rule).slice(3)}</span>
									{rule.problem && <span className={classes.problem}>{rule.problem}</span>}
								</td>
								<td>
									<code>{inWords(rule.definition)}</code>
								</td>
								<td>{rule.severity}</td>
								<td>
									<Allowed to="PATCH /api/alert-rules/{id}">
										<Switch
											aria-label={`${rule.name} is on`}
											checked={rule.enabled}
											onChange={(event) => turn.mutate({ id: rule.id, enabled: event.currentTarget.checked })}
										/>
									</Allowed>
								</td>
								<td className={classes.number}>{rule.open > 0 ? number(rule.open) : ""}</td>
								<td className={classes.actionsCell}>
									<More of={rule.name}>
										<Menu.Item onClick={() => navigate(`/alerts/rules/${rule.id}`)}>Edit</Menu.Item>
										<Menu.Item {...barred} onClick={() => drop.mutate(rule.id, { onSuccess: () => setGone(rule) })}>
											Delete
										</Menu.Item>
									</More>
								</td>
							</tr>
						))}
					</tbody>
				</table>
			)}
			{list.data && (
				<Shipped
					families={list.data.shipped}
					onSwitch={(definition) => keep.mutate({ id: null, definition, enabled: true })}
				/>
			)}
		</main>
	);
}
