import { Button, MultiSelect, NumberInput, Select, TagsInput, TextInput } from "@mantine/core";
import { useState } from "react";
import type { Problem } from "../api/client";
import type { Schemas } from "../api/types";
import { SEVERITIES } from "../shared/severity";
import classes from "./Alerts.module.css";
import { type Draft, foundOut, type Kind } from "./definition";
import { HoursFields } from "./HoursFields";

const KINDS: { value: Kind; label: string }[] = [
	{ value: "count", label: "comes so often" },
	{ value: "fewer", label: "comes less often than it should" },
	{ value: "sequence", label: "comes, and then something else" },
	{ value: "unfinished", label: "begins, and does not end" },
	{ value: "measure", label: "measures beyond a level" },
	{ value: "entry", label: "is told by the logbook" },
	{ value: "unusual", label: "is out of its usual" },
	{ value: "restart", label: "a machine or service restarted" },
];
const UNUSUAL = [
	{ value: "pattern", label: "new pattern" },
	{ value: "value", label: "new value" },
	{ value: "more", label: "more than usual" },
	{ value: "less", label: "less than usual" },
];
/** What is said where none is chosen. */
const ANY: Partial<Record<Kind, string>> = {
	entry: "kinds of entries",
	unusual: "anything unusual",
	restart: "for any reason",
};
/** Of these it is said how often. */
const OFTEN: Kind[] = ["count", "fewer", "sequence", "entry"];
const MOST_FIELDS = 2;

export type SetDraft = (part: Partial<Draft>) => void;

/** In which hours it is watched: at all of them, as a rule. */
function Hours({ draft, set, wrong }: LevelsProps) {
	const [asked, setAsked] = useState(draft.days.length > 0 || draft.from !== "" || draft.to !== "");
	if (asked) return <HoursFields draft={draft} set={set} error={wrong("hours")} />;
	return (
		<div className={classes.row}>
			<Button variant="subtle" size="compact-sm" onClick={() => setAsked(true)}>
				Only at some hours…
			</Button>
		</div>
	);
}

interface SentenceProps {
	draft: Draft;
	set: SetDraft;
	problem: Problem | null;
	kinds: Schemas["AlertRules"]["kinds"];
	reasons: Schemas["AlertRules"]["reasons"];
}

const choices = (all: { name: string; title: string }[]) =>
	all.map(({ name, title }) => ({ value: name, label: title }));

interface LevelsProps {
	draft: Draft;
	set: SetDraft;
	wrong: (...parts: string[]) => string | undefined;
}

/** What is measured, and the levels that it may go beyond. */
function Levels({ draft, set, wrong }: LevelsProps) {
	const slot = (
		part: "level" | "critical" | "back" | "lasting",
		label: string,
		placeholder: string,
		error?: string,
	) => (
		<TextInput
			aria-label={label}
			w={100}
			placeholder={placeholder}
			value={draft[part]}
			error={error}
			onChange={(event) => set({ [part]: event.currentTarget.value })}
		/>
	);
	return (
		<>
			<div className={classes.row}>
				<TextInput
					aria-label="measure"
					w={220}
					placeholder="p95(duration_ms)"
					classNames={{ input: classes.code }}
					value={draft.of}
					error={wrong("of")}
					onChange={(event) => set({ of: event.currentTarget.value })}
				/>
				<span>is</span>
				<Select
					aria-label="side"
					w={110}
					data={["above", "below"]}
					value={draft.side}
					onChange={(value) => value && set({ side: value as Draft["side"] })}
					allowDeselect={false}
				/>
				{slot("level", "level", "2s", wrong("above", "below"))}
				<span>critical at</span>
				{slot("critical", "critical level", "no level", wrong("critical"))}
			</div>
			<div className={classes.row}>
				<span>over when back at</span>
				{slot("back", "way back", "the same", wrong("back"))}
				<span>told once it lasts</span>
				{slot("lasting", "lasting", "at once", wrong("for"))}
			</div>
		</>
	);
}

/** The rule as a sentence with slots. */
export function RuleSentence({ draft, set, problem, kinds, reasons }: SentenceProps) {
	const sorts: Partial<Record<Kind, { value: string; label: string }[]>> = {
		entry: choices(kinds),
		unusual: UNUSUAL,
		restart: choices(reasons),
	};
	const chosen = sorts[draft.kind];
	const wrong = (...parts: string[]) =>
		problem && parts.includes(problem.details.parameter ?? "") ? problem.message : undefined;
	return (
		<section className={classes.sentence} aria-label="Condition">
			<div className={classes.row}>
				<span>Raise</span>
				<Select
					aria-label="severity"
					w={150}
					data={SEVERITIES.filter((name) => name !== "unset")}
					value={draft.severity}
					onChange={(value) => value && set({ severity: value as Draft["severity"] })}
					allowDeselect={false}
				/>
				<span>when</span>
				{chosen ? (
					<MultiSelect
						className={classes.find}
						aria-label="kinds"
						placeholder={draft.kinds.length ? "" : ANY[draft.kind]}
						searchable
						data={chosen}
						value={draft.kinds}
						error={wrong("kinds", "of")}
						onChange={(some) => set({ kinds: some })}
					/>
				) : (
					<TextInput
						className={classes.find}
						aria-label="lines"
						placeholder={'a find text, such as "timed out after" service.name = bookingd'}
						classNames={{ input: classes.code }}
						value={draft.find}
						error={wrong("find", "first")}
						onChange={(event) => set({ find: event.currentTarget.value })}
						data-autofocus
					/>
				)}
			</div>
			<div className={classes.row}>
				<Select
					aria-label="condition"
					w={270}
					data={KINDS}
					value={draft.kind}
					onChange={(value) => value && set({ kind: value as Kind, kinds: [] })}
					allowDeselect={false}
				/>
				{(draft.kind === "sequence" || draft.kind === "unfinished") && (
					<TextInput
						className={classes.find}
						aria-label="then"
						placeholder={draft.kind === "sequence" ? "then lines with" : "ended by lines with"}
						classNames={{ input: classes.code }}
						value={draft.next}
						error={wrong("then")}
						onChange={(event) => set({ next: event.currentTarget.value })}
					/>
				)}
			</div>
			{draft.kind === "measure" && <Levels draft={draft} set={set} wrong={wrong} />}
			<div className={classes.row}>
				{draft.kind === "fewer" && <span>fewer than</span>}
				{draft.kind === "unusual" && (
					<>
						<span>of priority</span>
						<NumberInput
							aria-label="priority"
							w={90}
							min={0}
							max={100}
							allowDecimal={false}
							value={draft.priority}
							error={wrong("priority")}
							onChange={(value) => set({ priority: Number(value) || 0 })}
						/>
						<span>or more</span>
					</>
				)}
				{OFTEN.includes(draft.kind) && (
					<>
						<NumberInput
							aria-label="times"
							w={90}
							min={1}
							max={100_000}
							allowDecimal={false}
							value={draft.times}
							error={wrong("at_least", "than")}
							onChange={(value) => set({ times: Number(value) || 1 })}
						/>
						<span>
							{draft.times === 1 ? "time" : "times"}
							{draft.kind === "fewer" ? " within" : " or more within"}
						</span>
					</>
				)}
				{!OFTEN.includes(draft.kind) && !foundOut(draft.kind) && (
					<span>{draft.kind === "measure" ? "measured each" : "within"}</span>
				)}
				{!foundOut(draft.kind) && (
					<TextInput
						aria-label="within"
						w={90}
						value={draft.within}
						error={wrong("within")}
						onChange={(event) => set({ within: event.currentTarget.value })}
					/>
				)}
				<span>for the same</span>
				<TagsInput
					className={classes.find}
					aria-label="for the same"
					placeholder={draft.by.length ? "" : "everything together"}
					data={["host.name", "service.name", "user.name", "source.address", "client.address"]}
					maxTags={MOST_FIELDS}
					value={draft.by}
					error={wrong("by")}
					onChange={(by) => set({ by })}
				/>
			</div>
			{draft.kind === "unfinished" && (
				<div className={classes.row}>
					<span>of the same</span>
					<TextInput
						aria-label="of the same"
						w={220}
						placeholder="request.id"
						classNames={{ input: classes.code }}
						value={draft.join}
						error={wrong("join")}
						onChange={(event) => set({ join: event.currentTarget.value })}
					/>
				</div>
			)}
			{draft.kind === "sequence" && (
				<div className={classes.row}>
					<span>with none between of</span>
					<TextInput
						className={classes.find}
						aria-label="without"
						placeholder="nothing in particular"
						classNames={{ input: classes.code }}
						value={draft.without}
						error={wrong("without")}
						onChange={(event) => set({ without: event.currentTarget.value })}
					/>
				</div>
			)}
			<Hours draft={draft} set={set} wrong={wrong} />
			<div className={classes.row}>
				<span>and is over after a pause of</span>
				<TextInput
					aria-label="pause"
					w={120}
					placeholder="10min"
					value={draft.quiet}
					error={wrong("quiet")}
					onChange={(event) => set({ quiet: event.currentTarget.value })}
				/>
			</div>
		</section>
	);
}
