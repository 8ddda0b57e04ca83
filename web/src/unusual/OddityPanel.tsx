import { Button, Modal, Select, TextInput } from "@mantine/core";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { alertRuleFrom, linesOf } from "../alerts/api";
import { useKeys } from "../shared/keys";
import { Words } from "../shared/PatternText";
import { Samples } from "../shared/Samples";
import { Allowed, useBarred } from "../shared/session";
import { severityName } from "../shared/severity";
import { clock, day, number } from "../shared/time";
import { useZone } from "../shared/zone";
import { type OddityDetail, type Said, useLeaveOut, useOddity, useSay } from "./api";
import { Course } from "./Course";
import classes from "./Unusual.module.css";

const DAY_US = 86_400_000_000;
const SPANS = [
	{ value: "1", label: "a day" },
	{ value: "7", label: "a week" },
	{ value: "30", label: "a month" },
	{ value: "", label: "until somebody opens it again" },
];
/** What is rarer is not worth telling apart. */
const MOST_EXACT = 12;

function MuteForm({
	oddity,
	onSay,
	onClose,
}: {
	oddity: OddityDetail;
	onSay: (said: Said) => void;
	onClose: () => void;
}) {
	const [days, setDays] = useState("7");
	const [why, setWhy] = useState("");
	return (
		<Modal opened onClose={onClose} title="Mute what is unusual">
			<form
				className={classes.form}
				onSubmit={(event) => {
					event.preventDefault();
					const until_us = days ? Date.now() * 1000 + Number(days) * DAY_US : null;
					onSay({ id: oddity.id, state: "muted", until_us, why: why.trim() });
				}}
			>
				<p>{oddity.says}. When it comes again in that time it is noted and not listed.</p>
				<Select
					label="For"
					data={SPANS}
					value={days}
					onChange={(value) => setDays(value ?? "")}
					allowDeselect={false}
				/>
				<TextInput
					label="Why"
					placeholder="the pump is tested"
					value={why}
					onChange={(event) => setWhy(event.currentTarget.value)}
					data-autofocus
				/>
				<Button type="submit">Mute</Button>
			</form>
		</Modal>
	);
}

/** Where it comes from: a source may be left out, since nothing in it is worth a look. */
export function Sources({ sources }: { sources: OddityDetail["sources"] }) {
	const leave = useLeaveOut();
	return (
		<ul className={classes.plain}>
			{sources.map(({ id, name, unusual }) => (
				<li key={id} data-source={name}>
					{name}{" "}
					<Allowed to="PATCH /api/sources/{id}">
						<Button size="compact-xs" variant="subtle" onClick={() => leave.mutate({ id, unusual: !unusual })}>
							{unusual ? "Leave out" : "Watch again"}
						</Button>
					</Allowed>
				</li>
			))}
			{leave.error && (
				<li className={classes.problem} role="alert">
					{leave.error.message}
				</li>
			)}
		</ul>
	);
}

/** How rare it is, in words. */
function rarity(surprise: number): string {
	if (surprise > MOST_EXACT) return "by chance never";
	const hours = 10 ** surprise;
	if (hours < 48) return `by chance once in ${number(Math.round(hours))} hours`;
	const days = hours / 24;
	return days < 730
		? `by chance once in ${number(Math.round(days))} days`
		: `by chance once in ${number(Math.round(days / 365))} years`;
}

/** One of what is unusual: its course, its lines, and what is said of it. */
export function OddityPanel({ id, onSaid }: { id: number; onSaid: (before: Said) => void }) {
	const { zone } = useZone();
	const { data: oddity, error } = useOddity(id);
	const say = useSay();
	const [muting, setMuting] = useState(false);
	const navigate = useNavigate();
	const barred = useBarred("PUT /api/unusual/{id}/state").disabled;
	const problem = error ?? say.error;
	const says = (said: Said) => {
		if (!oddity) return;
		const { state, until_us, why } = oddity;
		say.mutate(said, { onSuccess: () => onSaid({ id, state, until_us, why }) });
		setMuting(false);
	};
	const open = oddity?.state === "open";
	useKeys({
		n: () => open && !barred && says({ id, state: "normal" }),
		m: () => open && !barred && setMuting(true),
		Enter: () => oddity && navigate(linesOf(oddity)),
	});
	if (!oddity) return <aside className={classes.panel}>{problem?.message}</aside>;
	const moment = (us: number) => `${day(us, zone)} ${clock(us, zone)}`;
	return (
		<aside className={classes.panel} aria-label={oddity.says}>
			<h2>{oddity.says}</h2>
			<p className={classes.second}>
				priority {oddity.priority} of 100 · {severityName(oddity.severity)} · {rarity(oddity.surprise)}
			</p>
			<Allowed to="PUT /api/unusual/{id}/state">
				<div className={classes.actions}>
					{open ? (
						<>
							<Button size="compact-md" onClick={() => says({ id, state: "normal" })}>
								Normal now
							</Button>
							<Button size="compact-md" variant="default" onClick={() => setMuting(true)}>
								Mute…
							</Button>
						</>
					) : (
						<Button size="compact-md" onClick={() => says({ id, state: "open" })}>
							Open again
						</Button>
					)}
				</div>
			</Allowed>
			{problem && (
				<p className={classes.problem} role="alert">
					{problem.message}
				</p>
			)}
			{!open && (
				<p className={classes.note}>
					{oddity.state === "muted" ? "Muted" : "Normal"}
					{oddity.changed_by && ` by ${oddity.changed_by}`}
					{oddity.until_us && ` until ${moment(oddity.until_us)}`}
					{oddity.why && `: ${oddity.why}`}.
				</p>
			)}
			{oddity.pattern && (
				<p className={classes.pattern}>
					<Words text={oddity.pattern.text} />
				</p>
			)}
			{oddity.course.length > 0 && <Course oddity={oddity} />}
			<p>
				{moment(oddity.from_us)} to {moment(oddity.last_us)}
				{oddity.expected !== null && (
					<>
						{" "}
						· <b>{number(oddity.lines)}</b> lines, about {number(oddity.expected)} expected
					</>
				)}
			</p>
			{oddity.machines.length > 0 && <p className={classes.second}>{oddity.machines.join(", ")}</p>}
			<Samples lines={oddity.samples} />
			<p className={classes.links}>
				<Link to={linesOf(oddity)}>Its lines</Link>
				{oddity.pattern && <Link to={`${linesOf(oddity)}&view=patterns`}>What stands in its open places</Link>}
				<Allowed to="POST /api/alert-rules">
					<Link to={alertRuleFrom(oddity.find)}>Make alert rule</Link>
				</Allowed>
			</p>
			<h3>Comes from</h3>
			<Sources sources={oddity.sources} />
			{muting && <MuteForm oddity={oddity} onSay={says} onClose={() => setMuting(false)} />}
		</aside>
	);
}
