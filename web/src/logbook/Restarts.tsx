import { Link } from "react-router";
import type { Happening } from "../api/types";
import { PinButton } from "../cases/PinButton";
import { changesBefore, evidence } from "../shared/evidence";
import { SeverityTicks } from "../shared/severity";
import { clock, dayAndYear, duration, number, toIso } from "../shared/time";
import { useZone } from "../shared/zone";
import { type Restart, useRestarts } from "./api";
import classes from "./Logbook.module.css";
import { LogbookTabs } from "./LogbookTabs";

const CONFIDENCE: Record<Restart["confidence"], string> = { sure: "● sure", likely: "◐ likely", none: "○ not known" };

function Told({ title, happenings, zone }: { title: string; happenings: Happening[]; zone: string }) {
	if (happenings.length === 0) return null;
	return (
		<>
			<dt>{title}</dt>
			<dd>
				<ul>
					{happenings.map((one) => (
						<li key={one.id}>
							<time>{clock(one.time_us, zone)}</time> <SeverityTicks code={one.severity} /> {one.machine}: {one.says}{" "}
							<Link to={evidence(one)}>lines</Link>
						</li>
					))}
				</ul>
			</dd>
		</>
	);
}

/** What would settle it, and whether we have it. */
function LookNext({ restart }: { restart: Restart }) {
	if (restart.look.length === 0) return null;
	const around = (find: string) =>
		`/?${new URLSearchParams({ find, from: toIso(restart.start_us - 3_600_000_000), to: toIso(restart.start_us + 600_000_000) })}`;
	return (
		<>
			<dt>look next at</dt>
			<dd>
				<ul>
					{restart.look.map((one) => (
						<li key={one.says}>
							{one.says}
							{one.machine && one.machine !== restart.machine && `, ${one.machine}`}:{" "}
							{one.lines === null ? (
								"it is not entered in the fleet’s map which machine that is"
							) : one.lines === 0 ? (
								<b>nothing of it is gathered for that hour</b>
							) : (
								<Link to={around(one.find ?? "")}>{number(one.lines)} lines of that hour</Link>
							)}
						</li>
					))}
				</ul>
			</dd>
		</>
	);
}

/** How the reasons weigh that anything speaks for. */
function Weights({ restart }: { restart: Restart }) {
	if (restart.weighed.length < 2 && restart.missing.length === 0) return null;
	return (
		<>
			<dt>weighed</dt>
			<dd className={classes.weights}>
				{restart.weighed.map((one) => `${one.says} ${one.weight}${one.refuted ? " (spoken against)" : ""}`).join(" · ")}
				{restart.missing.map((words) => ` · ${words}`)}
			</dd>
		</>
	);
}

function Verdict({ restart, zone }: { restart: Restart; zone: string }) {
	const away = restart.last_heard_us === null ? null : restart.start_us - restart.last_heard_us;
	return (
		<li
			className={classes.verdict}
			data-restart={restart.service ? `${restart.machine} ${restart.service}` : restart.machine}
			data-reason={restart.reason}
		>
			<p>
				<time>
					{dayAndYear(restart.start_us, zone)} {clock(restart.start_us, zone)}
				</time>
				<strong>
					{restart.machine}
					{restart.service && `, ${restart.service}`}
				</strong>
				<span className={classes.reason}>
					{restart.says}
					{restart.person && `: ${restart.person}`}
				</span>
				<span className={classes.confidence} data-confidence={restart.confidence}>
					{CONFIDENCE[restart.confidence]}
				</span>
				<span className={classes.again}>
					{away === null ? "not heard of in the day before" : `heard again after ${duration(away)}`}
				</span>
				<span className={classes.acts}>
					<Link to={evidence({ id: restart.id, time_us: restart.start_us, machine: restart.machine })}>lines</Link>
					<Link
						to={changesBefore({ id: restart.id, time_us: restart.start_us, machine: restart.machine })}
						title="what changed before it"
					>
						why
					</Link>
					<PinButton
						compact
						what={{ kind: "happening", id: restart.id }}
						title={`Why ${restart.service ?? restart.machine} started`}
					/>
				</span>
			</p>
			<dl>
				<Told title="because" happenings={restart.evidence} zone={zone} />
				<Told title="what speaks against other reasons" happenings={restart.against} zone={zone} />
				<Weights restart={restart} />
				<LookNext restart={restart} />
			</dl>
		</li>
	);
}

/** Why machines started, each with its evidence. */
export function Restarts() {
	const { zone } = useZone();
	const restarts = useRestarts();
	const all = restarts.data?.restarts ?? [];
	const unknown = all.filter((one) => one.reason === "unknown").length;
	return (
		<main className={classes.screen}>
			<header className={classes.head}>
				<LogbookTabs />
				<p role="status">
					{restarts.data && (
						<>
							<b>{number(restarts.data.total)}</b> {restarts.data.total === 1 ? "start" : "starts"} of machines and
							services
							{unknown > 0 && `; of ${number(unknown)} the reason is not known`}
						</>
					)}
				</p>
			</header>
			{restarts.error && <p className={classes.problem}>{restarts.error.message}</p>}
			{restarts.data && all.length === 0 && <p className={classes.empty}>No line tells of a machine that started.</p>}
			<ol className={classes.list}>
				{all.map((restart) => (
					<Verdict key={restart.id} restart={restart} zone={zone} />
				))}
			</ol>
		</main>
	);
}
