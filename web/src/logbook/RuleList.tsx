import { Button, Switch, TextInput } from "@mantine/core";
import { Fragment, useState } from "react";
import { Link, useNavigate } from "react-router";
import { authors } from "../shared/authors";
import { Allowed } from "../shared/session";
import { number } from "../shared/time";
import { type OwnRule, type ShippedRule, useRules } from "./api";
import classes from "./Logbook.module.css";
import { LogbookTabs } from "./LogbookTabs";

function has(words: string, ...texts: (string | null)[]): boolean {
	return words
		.toLowerCase()
		.split(/\s+/)
		.every((word) => texts.some((text) => text?.toLowerCase().includes(word)));
}

function Own({ rules, title }: { rules: OwnRule[]; title: (kind: string) => string }) {
	const { alter, drop, restore } = useRules();
	const [gone, setGone] = useState<OwnRule | null>(null);
	return (
		<>
			{gone && (
				<tr>
					<td colSpan={6} role="status">
						“{gone.name}” is removed.{" "}
						<Button
							variant="subtle"
							size="compact-sm"
							onClick={() => restore.mutate(gone.id, { onSuccess: () => setGone(null) })}
						>
							Undo
						</Button>
					</td>
				</tr>
			)}
			{rules.map((rule) => (
				<tr key={rule.id} data-own-rule={rule.name}>
					<td>
						<b>{rule.name}</b>
						<br />
						<span className={classes.second}>
							{title(rule.kind)}
							{authors(rule)}
						</span>
					</td>
					<td>{rule.says}</td>
					<td className={classes.code}>
						<Link to={`/?${new URLSearchParams({ find: rule.find })}`}>{rule.find}</Link>
						{rule.take && <div>{rule.take}</div>}
					</td>
					<td className={classes.number}>{rule.happenings > 0 && number(rule.happenings)}</td>
					<td>
						<Allowed to="PATCH /api/logbook-rules/{id}">
							<Switch
								aria-label={`${rule.name} is on`}
								checked={rule.enabled}
								onChange={(event) => alter.mutate({ id: rule.id, enabled: event.currentTarget.checked })}
							/>
						</Allowed>
					</td>
					<td>
						<Allowed to="DELETE /api/logbook-rules/{id}">
							<Button
								variant="subtle"
								size="compact-xs"
								onClick={() => drop.mutate(rule.id, { onSuccess: () => setGone(rule) })}
							>
								Remove
							</Button>
						</Allowed>
					</td>
				</tr>
			))}
		</>
	);
}

function Shipped({ rule, title }: { rule: ShippedRule; title: string }) {
	const { turn } = useRules();
	const [open, setOpen] = useState(false);
	return (
		<tr data-rule={rule.id}>
			<td>
				<button type="button" className="plain" aria-expanded={open} onClick={() => setOpen(!open)}>
					<span aria-hidden>{open ? "▾" : "▸"}</span> {rule.id}
				</button>
				<br />
				<span className={classes.second}>{title}</span>
			</td>
			<td>
				{rule.says}
				{rule.severity && <span className={classes.second}> ({rule.severity})</span>}
			</td>
			<td>
				{open ? (
					<div className={classes.code}>
						<Link to={`/?${new URLSearchParams({ find: rule.find })}`}>{rule.find}</Link>
						{rule.take && <div>{rule.take}</div>}
						{rule.samples.map((sample) => (
							<div key={sample}>{sample}</div>
						))}
					</div>
				) : (
					<span className={classes.second}>{rule.source}</span>
				)}
			</td>
			<td className={classes.number}>{rule.happenings > 0 && number(rule.happenings)}</td>
			<td>
				<Allowed to="PUT /api/logbook-rules/switches/{rule}">
					<Switch
						aria-label={`${rule.id} is on`}
						checked={rule.enabled}
						onChange={(event) => turn.mutate({ id: rule.id, enabled: event.currentTarget.checked })}
					/>
				</Allowed>
			</td>
			<td />
		</tr>
	);
}

/** What the logbook is read with: rules of people, and those that ship. */
export function RuleList() {
	const navigate = useNavigate();
	const { list } = useRules();
	const [words, setWords] = useState("");
	const rules = list.data;
	const titles = Object.fromEntries(rules?.kinds.map(({ kind, title }) => [kind, title]) ?? []);
	const title = (kind: string) => titles[kind] ?? kind;
	const own = rules?.own.filter((rule) => has(words, rule.name, rule.says, rule.find, title(rule.kind))) ?? [];
	const total = rules?.families.reduce((sum, family) => sum + family.rules.length, rules.own.length) ?? 0;
	return (
		<main className={classes.screen}>
			<header className={classes.head}>
				<LogbookTabs />
				<TextInput
					aria-label="Search the rules"
					placeholder="a word, a kind, an event id"
					value={words}
					onChange={(event) => setWords(event.currentTarget.value)}
					w={240}
				/>
				<p role="status">
					{rules && (
						<>
							<b>{number(total)}</b> rules
							{rules.reading !== null &&
								`; they have changed, ${Math.round(rules.reading * 100)} % of the lines is read again`}
						</>
					)}
				</p>
				<Allowed to="POST /api/logbook-rules">
					<Button onClick={() => navigate("/logbook/rules/new")}>Make a rule</Button>
				</Allowed>
			</header>
			{list.error && <p className={classes.problem}>{list.error.message}</p>}
			<div className={classes.list}>
				<table className={classes.ruled}>
					<thead>
						<tr>
							<th scope="col">rule</th>
							<th scope="col">says</th>
							<th scope="col">where its form is published; condition and samples when opened</th>
							<th scope="col" className={classes.number}>
								happenings
							</th>
							<th scope="col">on</th>
							<th scope="col" aria-label="actions" />
						</tr>
					</thead>
					<tbody>
						{(own.length > 0 || words === "") && (
							<tr>
								<td colSpan={6}>
									<h2>Your own</h2>
									{rules?.own.length === 0 && (
										<span className={classes.second}>
											None yet. A rule can be made from a question under “make” in Investigate; it is asked before those
											that ship.
										</span>
									)}
								</td>
							</tr>
						)}
						<Own rules={own} title={title} />
						{rules?.families.map((family) => {
							const shown = family.rules.filter((rule) =>
								has(words, rule.id, rule.says, rule.source, title(rule.kind), family.title),
							);
							return shown.length === 0 ? null : (
								<Fragment key={family.name}>
									<tr>
										<td colSpan={6}>
											<h2>
												{family.title} <span className={classes.second}>{number(shown.length)}</span>
											</h2>
										</td>
									</tr>
									{shown.map((rule) => (
										<Shipped key={rule.id} rule={rule} title={title(rule.kind)} />
									))}
								</Fragment>
							);
						})}
					</tbody>
				</table>
			</div>
		</main>
	);
}
