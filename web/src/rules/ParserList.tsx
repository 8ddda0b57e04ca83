import { Button, FileButton, Menu, Switch } from "@mantine/core";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { answer, api } from "../api/client";
import intake from "../intake/Intake.module.css";
import { authors } from "../shared/authors";
import { Gone, IntakeHead } from "../shared/IntakeHead";
import { More } from "../shared/More";
import { equals } from "../shared/question";
import { Allowed } from "../shared/session";
import { number } from "../shared/time";
import { PARSERS, type Parser, type ParserDraft, type Reread, useRules } from "./api";
import classes from "./Rules.module.css";

interface Parsers {
	parsers: Parser[];
}

const GOING_ON: Reread["state"][] = ["waiting", "running", "undoing"];
const busy = (list: Parsers) => list.parsers.some(({ reread }) => reread !== null && GOING_ON.includes(reread.state));

function told(reread: Reread): string {
	const share = reread.total > 0 ? Math.min(100, Math.round((100 * reread.looked_at) / reread.total)) : 0;
	switch (reread.state) {
		case "waiting":
			return "waits for its turn";
		case "running":
			return `${share} % of ${number(reread.total)} lines looked at, ${number(reread.altered)} read`;
		case "done":
			return `${number(reread.altered)} stored lines read`;
		case "cancelled":
			return `stopped; ${number(reread.altered)} stored lines read`;
		case "failed":
			return `failed: ${reread.problem}`;
		case "undoing":
			return `taking it back, ${number(reread.altered)} to go`;
		case "undone":
			return "taken back";
	}
}

/** Applying a parser to what is stored, how far that is, and its undoing. */
function Past({ parser }: { parser: Parser }) {
	const queries = useQueryClient();
	const settled = { onSettled: () => queries.invalidateQueries() };
	const its = { params: { path: { id: parser.id } } };
	const apply = useMutation({ mutationFn: () => answer(api.POST("/api/parsers/{id}/reread", its)), ...settled });
	const stop = useMutation({ mutationFn: () => answer(api.DELETE("/api/parsers/{id}/reread", its)), ...settled });
	const { reread } = parser;
	const goesOn = reread !== null && GOING_ON.includes(reread.state);
	const stoppable = reread !== null && (goesOn ? reread.state !== "undoing" : reread.altered > 0);
	return (
		<>
			{reread && (
				<span className={reread.state === "failed" ? classes.warned : intake.said} role="status">
					{told(reread)}
				</span>
			)}
			{!goesOn && (
				<Allowed to="POST /api/parsers/{id}/reread">
					<Button size="compact-xs" variant="subtle" onClick={() => apply.mutate()}>
						Apply to what is stored
					</Button>
				</Allowed>
			)}
			{stoppable && (
				<Allowed to="DELETE /api/parsers/{id}/reread">
					<Button size="compact-xs" variant="subtle" onClick={() => stop.mutate()}>
						{goesOn ? "Stop" : "Undo"}
					</Button>
				</Allowed>
			)}
		</>
	);
}

/** The parsers as a file that another installation reads. */
function saved(parsers: Parser[]): string {
	const shared = parsers.map(({ name, pattern, types, find, samples }) => ({ name, pattern, types, find, samples }));
	return `data:application/json;charset=utf-8,${encodeURIComponent(JSON.stringify({ parsers: shared }, null, 1))}`;
}

function Exchange({ parsers }: { parsers: Parser[] }) {
	const queries = useQueryClient();
	const add = useMutation({
		mutationFn: async (file: File) => {
			const text = await file.text();
			let body: { parsers: ParserDraft[] };
			try {
				body = JSON.parse(text);
			} catch {
				throw new Error(`${file.name} is no JSON`);
			}
			return answer(api.POST("/api/parsers/exchanged", { body }));
		},
		onSettled: () => queries.invalidateQueries(),
	});
	return (
		<>
			{add.error && <span className={classes.warned}>{add.error.message}</span>}
			{add.data && <span className={intake.said}>{number(add.data.parsers.length)} added</span>}
			{parsers.length > 0 && (
				<Button component="a" variant="default" href={saved(parsers)} download="parsers.json">
					Save as a file
				</Button>
			)}
			<FileButton accept="application/json,.json" onChange={(file) => file && add.mutate(file)}>
				{(props) => (
					<Allowed to="POST /api/parsers/exchanged">
						<Button variant="default" {...props}>
							Read from a file
						</Button>
					</Allowed>
				)}
			</FileButton>
		</>
	);
}

/** All parsers, in the order in which they are tried. */
export function ParserList() {
	const navigate = useNavigate();
	const { list, alter, drop, restore } = useRules(PARSERS, busy);
	const [gone, setGone] = useState<Parser | null>(null);
	const parsers = list.data?.parsers ?? [];
	return (
		<main className={intake.screen}>
			<IntakeHead
				action={
					<>
						<Exchange parsers={parsers} />
						<Allowed to="POST /api/parsers">
							<Button onClick={() => navigate("/intake/parsers/new")}>Make a parser</Button>
						</Allowed>
					</>
				}
			/>
			{list.error && <p className={intake.problem}>{list.error.message}</p>}
			{gone && (
				<Gone onUndo={() => restore.mutate(gone.id, { onSuccess: () => setGone(null) })}>
					“{gone.name}” is removed; the fields that it gave stay.
				</Gone>
			)}
			{list.data && parsers.length === 0 && (
				<p className={intake.said}>
					No parsers yet. A parser takes fields out of lines that no reader understands: begin with the{" "}
					<Link to="/intake/unread">unread lines</Link>, or with a line in Investigate.
				</p>
			)}
			{parsers.length > 0 && (
				<div className={intake.scroll}>
					<table className={intake.table}>
						<thead>
							<tr>
								<th scope="col">Parser</th>
								<th scope="col">Expression</th>
								<th scope="col">on</th>
								<th scope="col">24 h</th>
								<th scope="col">a line</th>
								<th scope="col" className={classes.left}>
									What is stored
								</th>
								<th scope="col" aria-label="actions" />
							</tr>
						</thead>
						<tbody>
							{parsers.map((parser, index) => (
								<tr key={parser.id} className={intake.feed} data-parser={parser.name}>
									<td>
										<strong>{parser.name}</strong>
										<span className={intake.said}>
											version {parser.version}
											{authors(parser)}
										</span>
									</td>
									<td className={classes.expression}>
										<span className={classes.find}>{parser.pattern}</span>
										<span className={intake.said}>{parser.find && `only ${parser.find}`}</span>
									</td>
									<td>
										<Switch
											aria-label={`${parser.name} is on`}
											checked={parser.enabled}
											onChange={(event) => alter.mutate({ id: parser.id, enabled: event.currentTarget.checked })}
										/>
									</td>
									<td className={intake.number}>
										{parser.day_lines > 0 ? (
											<Link to={`/?chip=${encodeURIComponent(equals("parser", parser.name))}`}>
												{number(parser.day_lines)}
											</Link>
										) : (
											<span className={intake.said}>matches nothing</span>
										)}
									</td>
									<td className={intake.number}>
										{parser.microseconds} µs{parser.slow && <span className={classes.warned}>slow</span>}
									</td>
									<td className={classes.past}>
										<Past parser={parser} />
									</td>
									<td className={intake.actions}>
										<Button size="compact-xs" variant="subtle" onClick={() => navigate(`/intake/parsers/${parser.id}`)}>
											Change
										</Button>
										<Allowed to="PATCH /api/parsers/{id}">
											<More of={parser.name}>
												<Menu.Item
													disabled={index === 0}
													onClick={() => alter.mutate({ id: parser.id, position: index - 1 })}
												>
													Try it sooner
												</Menu.Item>
												<Menu.Item
													disabled={index === parsers.length - 1}
													onClick={() => alter.mutate({ id: parser.id, position: index + 1 })}
												>
													Try it later
												</Menu.Item>
												<Menu.Item onClick={() => drop.mutate(parser.id, { onSuccess: () => setGone(parser) })}>
													Remove
												</Menu.Item>
											</More>
										</Allowed>
									</td>
								</tr>
							))}
						</tbody>
					</table>
					{parsers.length > 1 && <p className={intake.said}>The first that matches a line reads it.</p>}
				</div>
			)}
		</main>
	);
}
