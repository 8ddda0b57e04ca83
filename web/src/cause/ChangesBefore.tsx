import { Loader } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { answer, api, asking } from "../api/client";
import type { Pattern, Schemas } from "../api/types";
import { PinButton } from "../cases/PinButton";
import { RemedyMark } from "../cases/Remedies";
import { evidence } from "../shared/evidence";
import { Words } from "../shared/PatternText";
import { equals } from "../shared/question";
import { SeverityTicks } from "../shared/severity";
import { clock, clockExact, day, duration, number, toIso } from "../shared/time";
import { useZone } from "../shared/zone";
import { useSurvey } from "../surveys/useSurvey";
import classes from "./ChangesBefore.module.css";

type Candidate = Causes["candidates"][number];

type Causes = Schemas["Causes"];

/** Candidates that count for less than this share of the first are folded away. */
const SLIGHT = 0.05;
const FIRST = 8;

function where({ where: place, steps }: Candidate, machine: string | null): string {
	switch (place) {
		case "here":
			return "on the machine itself";
		case "below":
			return steps === 1 ? `${machine} needs it` : `${machine} needs it, over ${(steps ?? 1) - 1} other`;
		case "beside":
			return "beside it";
		default:
			return "elsewhere";
	}
}

function past({ times, harmful }: Candidate): string {
	if (times === 0) return "not in the 30 days before";
	const before = times === 1 ? "once before" : `${times}${times === 20 ? " and more" : ""} times before`;
	if (harmful === 0) return `${before}, without harm`;
	return harmful === times ? `${before}, with harm` : `${before}, ${harmful} with harm`;
}

function Candidates({ causes }: { causes: Causes }) {
	const { zone } = useZone();
	const top = causes.candidates[0];
	const likely = causes.candidates.filter((one) => top && one.score >= top.score * SLIGHT).slice(0, FIRST);
	const rest = causes.candidates.length - likely.length;
	if (!top)
		return (
			<p className={classes.none}>
				Nothing that is known to change things was told in the 24 hours before, on any machine.
			</p>
		);
	return (
		<>
			<ol className={classes.candidates}>
				{likely.map((one, index) => (
					<li key={one.happening.id} data-candidate={index + 1}>
						<span className={classes.rank}>{index + 1}</span>
						<div>
							<p>
								<SeverityTicks code={one.happening.severity} /> <b>{one.happening.machine}</b>: {one.happening.says}
							</p>
							<p className={classes.why}>
								{one.before_us < 0 ? "at the same time" : `${duration(one.before_us)} before it began`} (
								{day(one.happening.time_us, zone)} {clock(one.happening.time_us, zone)}) · {where(one, causes.machine)}{" "}
								· {past(one)}
							</p>
						</div>
						<meter
							className={classes.score}
							min={0}
							max={top.score}
							value={one.score}
							aria-label={`weight ${one.score.toPrecision(2)}`}
							title={`weight ${one.score.toPrecision(2)}: kind, nearness, time and how often it did no harm, multiplied`}
						/>
						<Link to={evidence(one.happening)}>lines</Link>
						<PinButton
							compact
							what={{ kind: "happening", id: one.happening.id }}
							title={`What changed before: ${one.happening.says}`}
						/>
					</li>
				))}
			</ol>
			{rest > 0 && (
				<p className={classes.none}>{number(rest)} other happenings of the day before count for hardly anything.</p>
			)}
		</>
	);
}

function Fresh({ causes, asked }: { causes: Causes; asked: URLSearchParams }) {
	const survey = useSurvey<{ patterns: Pattern[] }>("/api/causes/patterns", asked);
	const patterns = survey.answer?.patterns ?? [];
	const none = survey.done === 1 && !patterns.length && !causes.fresh.machines.length && !causes.fresh.persons.length;
	return (
		<section aria-label="New then">
			<h3>New in those minutes {survey.done < 1 && <Loader size="xs" />}</h3>
			{none && <p className={classes.none}>No pattern, machine or person was there for the first time.</p>}
			<ul className={classes.plain}>
				{causes.fresh.machines.map((name) => (
					<li key={name}>machine {name}</li>
				))}
				{causes.fresh.persons.map((name) => (
					<li key={name}>{name}, of whom nothing was told before</li>
				))}
				{patterns.map((pattern) => (
					<li key={pattern.name}>
						<span className={classes.count}>{number(pattern.count)}</span>{" "}
						<Link
							to={`/?${new URLSearchParams({ chip: equals("pattern", pattern.name), from: toIso(causes.onset_us - 1_800_000_000), to: toIso(causes.onset_us + 600_000_000) })}`}
						>
							<Words text={pattern.text} />
						</Link>{" "}
						<RemedyMark remedies={pattern.remedies} />
					</li>
				))}
			</ul>
		</section>
	);
}

/** When something began, and what changed before that: on the machine, on what it needs, and beside it. */
export function ChangesBefore({ asked }: { asked: URLSearchParams }) {
	const { zone } = useZone();
	const { data: causes, error } = useQuery({
		queryKey: ["causes", asked.toString()],
		queryFn: ({ signal }) => answer(api.GET("/api/causes", { ...asking(asked), signal })),
		retry: false,
	});
	if (error) return <p role="alert">{error.message}</p>;
	if (!causes)
		return (
			<p>
				<Loader size="xs" /> Looking for when it began
			</p>
		);
	const early = causes.asked_us - causes.onset_us;
	return (
		<div className={classes.changes}>
			<p data-onset>
				{causes.rate && causes.onset_find ? (
					<>
						It began at <b>{clockExact(causes.onset_us, zone)}</b>
						{early > 1_000_000 && `, ${duration(early)} before ${asked.has("at") ? "that moment" : "this line"}`}: from
						then on{" "}
						<Link
							to={`/?${new URLSearchParams({ find: causes.onset_find, from: toIso(causes.onset_us - 3_600_000_000), to: toIso(causes.asked_us + 600_000_000) })}`}
						>
							{causes.onset_of === "pattern" ? "lines of its pattern" : `errors of ${causes.machine}`}
						</Link>{" "}
						come {causes.rate.before < 0.005 ? "where there were none" : "clearly more often than before"}.
					</>
				) : (
					<>
						It stands alone: neither its pattern nor the errors of {causes.machine ?? "its machine"} came more often
						before, so what is asked about is <b>{clockExact(causes.onset_us, zone)}</b> itself.
					</>
				)}
				{causes.named.length > 0 && ` What it complains of names ${causes.named.join(", ")}.`}
			</p>
			<h3>What changed before, the likeliest first</h3>
			<Candidates causes={causes} />
			<Fresh causes={causes} asked={asked} />
			{causes.unknown.length > 0 && (
				<section aria-label="What cannot be known">
					<h3>What cannot be known</h3>
					<ul className={classes.plain} data-unknown>
						{causes.unknown.map((words) => (
							<li key={words}>{words}</li>
						))}
					</ul>
				</section>
			)}
		</div>
	);
}
