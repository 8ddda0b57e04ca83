import { Button, Menu, Textarea, TextInput } from "@mantine/core";
import { useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { authors } from "../shared/authors";
import { evidence } from "../shared/evidence";
import { Allowed, useBarred } from "../shared/session";
import { SeverityTicks } from "../shared/severity";
import { clockExact, day, dayAndYear, fromIso, number, toIso } from "../shared/time";
import { useZone } from "../shared/zone";
import { CASES, type Case, type Pin, useCase, useCaseChanges } from "./api";
import { CaseChart } from "./CaseChart";
import classes from "./Cases.module.css";
import { useCurrentCase } from "./current";

const FACTS: { name: "effect" | "cause" | "remedy" | "note"; label: string; hint: string }[] = [
	{ name: "effect", label: "Effect", hint: "what people noticed" },
	{ name: "cause", label: "Cause", hint: "what did it, and who or what was behind it" },
	{ name: "remedy", label: "Remedy", hint: "what helped; it is shown where the same pattern appears again" },
	{ name: "note", label: "Notes", hint: "whatever else there is to say" },
];
const REPORTS = [
	["pdf", "PDF, to be printed"],
	["html", "HTML, one file"],
	["md", "Markdown"],
] as const;

/** A text that is kept when a person leaves it. */
function Fact({ one, name, label, hint }: { one: Case } & (typeof FACTS)[number]) {
	const { alter } = useCaseChanges();
	// Null while it is not being written. Only its own saving ends that: the case is read anew whenever any of it is saved.
	const [draft, setDraft] = useState<string | null>(null);
	const keep = () => {
		if (draft === null || draft === one[name]) return setDraft(null);
		const saved = () => setDraft((now) => (now === draft ? null : now));
		alter.mutate({ id: one.id, [name]: draft }, { onSuccess: saved });
	};
	return (
		<Textarea
			label={label}
			placeholder={hint}
			autosize
			minRows={2}
			maxRows={8}
			value={draft ?? one[name]}
			onChange={(event) => setDraft(event.currentTarget.value)}
			onBlur={keep}
			error={alter.error?.message}
		/>
	);
}

function Onset({ one }: { one: Case }) {
	const { alter } = useCaseChanges();
	const shown = one.onset_us === null ? "" : toIso(one.onset_us);
	const [text, setText] = useState(shown);
	const [wrong, setWrong] = useState(false);
	useEffect(() => setText(shown), [shown]);
	const keep = () => {
		const us = text.trim() ? fromIso(text.trim()) : null;
		setWrong(text.trim() !== "" && us === null);
		if (text !== shown && (us !== null || !text.trim())) alter.mutate({ id: one.id, onset_us: us });
	};
	return (
		<TextInput
			label="It began"
			placeholder="2026-11-22T06:09:41Z, or “began” on a pin"
			value={text}
			onChange={(event) => setText(event.currentTarget.value)}
			onBlur={keep}
			error={wrong ? "a moment is written like 2026-11-22T06:09:41Z" : undefined}
		/>
	);
}

function Entry({ one, pin, onGone }: { one: Case; pin: Pin; onGone: (pin: Pin) => void }) {
	const { zone } = useZone();
	const { alter, annotate, unpin } = useCaseChanges();
	const [note, setNote] = useState<string | null>(null);
	const keep = () => {
		if (note !== null && note !== pin.note) annotate.mutate({ id: one.id, pin: pin.id, note });
		setNote(null);
	};
	const lines =
		pin.query !== null && pin.kind === "chart"
			? `/?${pin.query}`
			: pin.event_id
				? evidence({ id: pin.event_id, time_us: pin.told_us, machine: pin.machine, line: pin.raw !== null })
				: null;
	return (
		<li data-pin={pin.kind} data-onset={one.onset_us === pin.at_us ? "" : undefined}>
			<div className={classes.entry}>
				<time>
					{day(pin.at_us, zone)} {clockExact(pin.at_us, zone)}
				</time>
				{pin.severity === null ? <span /> : <SeverityTicks code={pin.severity} />}
				<span className={classes.cut}>{pin.machine}</span>
				<span className={classes.text} data-kind={pin.kind}>
					{pin.text}
				</span>
				{lines ? <Link to={lines}>lines</Link> : <span />}
				<Menu position="bottom-end">
					<Allowed to="PATCH /api/cases/{id}/pins/{pin}">
						<Menu.Target>
							<Button variant="subtle" size="compact-xs" aria-label={`more for ${pin.text.slice(0, 40)}`}>
								▾
							</Button>
						</Menu.Target>
					</Allowed>
					<Menu.Dropdown>
						<Menu.Item onClick={() => setNote(pin.note)}>{pin.note ? "change the note" : "write a note"}</Menu.Item>
						<Menu.Item onClick={() => alter.mutate({ id: one.id, onset_us: pin.at_us })}>it began here</Menu.Item>
						<Menu.Item onClick={() => unpin.mutate({ id: one.id, pin: pin.id }, { onSuccess: () => onGone(pin) })}>
							take it out
						</Menu.Item>
					</Menu.Dropdown>
				</Menu>
			</div>
			{pin.at_us !== pin.told_us && (
				<p className={classes.more}>
					its own clock was wrong and says {day(pin.told_us, zone)} {clockExact(pin.told_us, zone)}
				</p>
			)}
			{pin.chart && <CaseChart chart={pin.chart} />}
			{note === null ? (
				pin.note && <p className={classes.note}>{pin.note}</p>
			) : (
				<Textarea
					aria-label="Note"
					className={classes.note}
					autosize
					autoFocus
					value={note}
					onChange={(event) => setNote(event.currentTarget.value)}
					onBlur={keep}
				/>
			)}
			{pin.sha256 && (
				<p className={classes.more}>
					{pin.source}, kept with its bytes, SHA-256 <code title={pin.sha256}>{pin.sha256.slice(0, 16)}…</code>
				</p>
			)}
		</li>
	);
}

/** One investigation: what explains it, in the order in which it truly happened. */
export function CasePage() {
	const { zone } = useZone();
	const navigate = useNavigate();
	const id = Number(useParams().id);
	const { data: one, error } = useCase(id);
	const { alter, drop, repin, pin } = useCaseChanges();
	const { current, choose } = useCurrentCase();
	const [title, setTitle] = useState<string | null>(null);
	const [gone, setGone] = useState<Pin | null>(null);
	const [remark, setRemark] = useState("");
	const barred = useBarred("DELETE /api/cases/{id}");
	if (error) return <main className={classes.screen}>{error.message}</main>;
	if (!one) return <main className={classes.screen} aria-busy />;
	const rename = () => {
		if (title?.trim() && title !== one.title) alter.mutate({ id, title: title.trim() });
		setTitle(null);
	};
	const closed = one.status === "closed";
	return (
		<main className={classes.screen}>
			<header className={classes.head}>
				{title === null ? (
					<h1>
						<Allowed to="PATCH /api/cases/{id}">
							<button type="button" className="plain" title="change the title" onClick={() => setTitle(one.title)}>
								Case {one.id}: {one.title}
							</button>
						</Allowed>
					</h1>
				) : (
					<TextInput
						aria-label="Title"
						flex={1}
						autoFocus
						value={title}
						onChange={(event) => setTitle(event.currentTarget.value)}
						onBlur={rename}
						onKeyDown={(event) => event.key === "Enter" && rename()}
					/>
				)}
				<span className={classes.status} role="status">
					{closed && one.closed_us !== null ? `closed ${dayAndYear(one.closed_us, zone)}` : "open"},{" "}
					{number(one.timeline.length)} pinned
					{authors(one)}
				</span>
				{!closed && current?.id !== id && (
					<Button variant="default" onClick={() => choose(id)}>
						Work on it
					</Button>
				)}
				<Menu position="bottom-end">
					<Menu.Target>
						<Button variant="default">Report ▾</Button>
					</Menu.Target>
					<Menu.Dropdown>
						{REPORTS.map(([ending, label]) => (
							<Menu.Item key={ending} component="a" href={`${CASES}/${id}/report.${ending}`} download>
								{label}
							</Menu.Item>
						))}
						<Menu.Divider />
						<Menu.Item {...barred} onClick={() => drop.mutate(id, { onSuccess: () => navigate("/cases") })}>
							remove the case
						</Menu.Item>
					</Menu.Dropdown>
				</Menu>
				<Allowed to="PATCH /api/cases/{id}">
					<Button
						onClick={() => {
							alter.mutate({ id, status: closed ? "open" : "closed" });
							if (!closed && current?.id === id) choose(null);
						}}
					>
						{closed ? "Open it again" : "Close the case"}
					</Button>
				</Allowed>
			</header>
			{gone && (
				<p role="status">
					“{gone.text.slice(0, 60)}” is taken out.{" "}
					<Button
						variant="subtle"
						size="compact-sm"
						onClick={() => repin.mutate({ id, pin: gone.id }, { onSuccess: () => setGone(null) })}
					>
						Undo
					</Button>
				</p>
			)}
			<div className={classes.body}>
				<section className={classes.facts} aria-label="What explains it">
					<Allowed to="PATCH /api/cases/{id}" tell>
						<Onset one={one} />
						{FACTS.map((fact) => (
							<Fact key={fact.name} one={one} {...fact} />
						))}
						<form
							onSubmit={(event) => {
								event.preventDefault();
								if (!remark.trim()) return;
								pin.mutate({ id, what: { kind: "note", text: remark.trim(), at_us: Date.now() * 1000 } });
								setRemark("");
							}}
						>
							<TextInput
								label="A remark for the timeline, of now"
								value={remark}
								onChange={(event) => setRemark(event.currentTarget.value)}
							/>
						</form>
					</Allowed>
				</section>
				{one.timeline.length === 0 ? (
					<p className={classes.empty}>
						Nothing is pinned yet. Work on this case, then pin what tells something: <kbd>p</kbd> for the chosen line in{" "}
						<Link to="/">Investigate</Link>, “pin” beside patterns, causes and the <Link to="/logbook">logbook</Link>,
						the course of a question under “make”.
					</p>
				) : (
					<ol className={classes.timeline} aria-label="Timeline">
						{one.timeline.map((entry) => (
							<Entry key={entry.id} one={one} pin={entry} onGone={setGone} />
						))}
					</ol>
				)}
			</div>
		</main>
	);
}
