import { Button, TextInput } from "@mantine/core";
import { useDebouncedValue } from "@mantine/hooks";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { authors } from "../shared/authors";
import { Allowed } from "../shared/session";
import { dayAndYear, number } from "../shared/time";
import { useZone } from "../shared/zone";
import { useCaseChanges, useCases } from "./api";
import classes from "./Cases.module.css";
import { useCurrentCase } from "./current";

/** All investigations, the open ones first. */
export function Cases() {
	const { zone } = useZone();
	const navigate = useNavigate();
	const [params, setParams] = useSearchParams();
	const [text, setText] = useState(params.get("text") ?? "");
	const [settled] = useDebouncedValue(text, 250);
	const { data, error } = useCases(settled);
	const { start } = useCaseChanges();
	const { choose } = useCurrentCase();
	const begin = () =>
		start.mutate(
			{ title: "A new case" },
			{
				onSuccess: (made) => {
					choose(made.id);
					navigate(`/cases/${made.id}`);
				},
			},
		);
	return (
		<main className={classes.screen}>
			<header className={classes.head}>
				<h1>Cases</h1>
				<TextInput
					aria-label="Search the cases"
					placeholder="a word of its lines, its cause, its remedy"
					w={320}
					value={text}
					onChange={(event) => {
						setText(event.currentTarget.value);
						setParams(event.currentTarget.value ? { text: event.currentTarget.value } : {}, { replace: true });
					}}
				/>
				<Allowed to="POST /api/cases">
					<Button onClick={begin} loading={start.isPending}>
						Start a case
					</Button>
				</Allowed>
			</header>
			{(error ?? start.error) && <p role="alert">{(error ?? start.error)?.message}</p>}
			{data?.cases.length === 0 && (
				<p className={classes.empty}>
					{settled
						? "No case has these words."
						: "No cases yet. A case keeps what explains a trouble: pin lines, patterns, charts and happenings to it from any screen (p pins the chosen line), say what the cause was and what helped, and print its report."}
				</p>
			)}
			<ol className={classes.list}>
				{data?.cases.map((one) => (
					<li key={one.id} data-case-row={one.title}>
						<span className={classes.second}>Case {one.id}</span>
						<span>{one.status === "open" ? "● open" : "○ closed"}</span>
						<Link to={`/cases/${one.id}`} className={classes.cut}>
							{one.title}
						</Link>
						<span className={`${classes.second} ${classes.cut}`}>{one.cause || one.effect || one.note}</span>
						<span className={classes.second} title={authors(one).slice(3)}>
							{number(one.pins)} pinned
						</span>
						<span className={classes.second}>{dayAndYear(one.changed_us, zone)}</span>
					</li>
				))}
			</ol>
		</main>
	);
}
