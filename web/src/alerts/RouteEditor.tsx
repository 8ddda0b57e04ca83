import { Button, NumberInput, SegmentedControl, Select, Switch, TagsInput, Textarea, TextInput } from "@mantine/core";
import { useDebouncedValue } from "@mantine/hooks";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { Problem } from "../api/client";
import { filled, SettingFields } from "../intake/SettingFields";
import { useKeep, useRules } from "../rules/api";
import { Allowed } from "../shared/session";
import { SEVERITIES } from "../shared/severity";
import { useZone } from "../shared/zone";
import classes from "./Alerts.module.css";
import { AlertsHead } from "./AlertsHead";
import { useAlerts } from "./api";
import { HoursFields } from "./HoursFields";
import {
	definitionOf,
	draftOf,
	KINDS,
	ROUTES,
	type Route,
	type RouteDraft,
	type RouteKind,
	usePreview,
} from "./routes";

const SETTLE_MS = 350;

/** What a message says of the latest alert. */
function Preview({ draft }: { draft: RouteDraft }) {
	const { zone } = useZone();
	const [settled] = useDebouncedValue(draft, SETTLE_MS);
	const [occasion, setOccasion] = useState<"raised" | "back">("raised");
	const { data: alerts } = useAlerts({ states: [], root: "any" });
	const there = (alerts?.total ?? 0) > 0;
	const { data, error } = usePreview(definitionOf(settled, zone), occasion, there);
	return (
		<section className={classes.tried} aria-label="Preview">
			<div className={classes.row}>
				<h2>What it says</h2>
				<SegmentedControl
					aria-label="Of what"
					size="xs"
					data={[
						{ value: "raised", label: "raised" },
						{ value: "back", label: "back to normal" },
					]}
					value={occasion}
					onChange={(value) => setOccasion(value as "raised" | "back")}
				/>
			</div>
			{alerts && !there && <p className={classes.hint}>There is no alert yet that it could be shown with.</p>}
			{error && <p className={classes.hint}>{error.message}</p>}
			{data && !error && (
				<>
					<p data-subject>
						<b>{data.subject}</b>
					</p>
					<pre className={classes.message}>
						{draft.kind === "mail" || draft.kind === "syslog" ? data.text : JSON.stringify(data.json, null, 1)}
					</pre>
				</>
			)}
		</section>
	);
}

interface PartProps {
	draft: RouteDraft;
	set: (part: Partial<RouteDraft>) => void;
	wrong: (part: string) => string | undefined;
}

/** Of which alerts it tells. */
function Which({ draft, set, wrong }: PartProps) {
	return (
		<section className={classes.sentence} aria-label="Which alerts">
			<div className={classes.row}>
				<span>Tell of alerts that are</span>
				<Select
					aria-label="severity"
					w={150}
					data={SEVERITIES.filter((name) => name !== "unset")}
					value={draft.severity}
					onChange={(value) => value && set({ severity: value as RouteDraft["severity"] })}
					allowDeselect={false}
				/>
				<span>or worse, of machines with</span>
				<TextInput
					className={classes.find}
					aria-label="machines"
					placeholder="all machines; or such as host.site = auk"
					classNames={{ input: classes.code }}
					value={draft.find}
					error={wrong("find")}
					onChange={(event) => set({ find: event.currentTarget.value })}
				/>
			</div>
			<div className={classes.row}>
				<span>of rules</span>
				<TagsInput
					className={classes.find}
					aria-label="rules"
					placeholder={draft.rules.length ? "" : "all rules"}
					value={draft.rules}
					onChange={(rules) => set({ rules })}
				/>
				<span>tagged</span>
				<TagsInput
					className={classes.find}
					aria-label="tags"
					placeholder={draft.tags.length ? "" : "anything"}
					value={draft.tags}
					onChange={(tags) => set({ tags })}
				/>
			</div>
			<div className={classes.row}>
				<span>that belong to</span>
				<TagsInput
					className={classes.find}
					aria-label="owners"
					placeholder={draft.owners.length ? "" : "anybody; or a person or team"}
					value={draft.owners}
					onChange={(owners) => set({ owners })}
				/>
			</div>
			<HoursFields draft={draft} set={set} error={wrong("hours")} />
		</section>
	);
}

/** When it tells, and how often. */
function When({ draft, set, wrong }: PartProps) {
	return (
		<div className={classes.pair}>
			<TextInput
				label="Only when nobody has taken it for"
				placeholder="at once; or such as 15min"
				value={draft.wait}
				error={wrong("wait")}
				onChange={(event) => set({ wait: event.currentTarget.value })}
			/>
			<TextInput
				label="Together, every"
				placeholder="each by itself; or such as 1h"
				value={draft.digest}
				error={wrong("digest")}
				onChange={(event) => set({ digest: event.currentTarget.value })}
			/>
			<NumberInput
				label="At most this many messages an hour"
				description="the rest is told together later"
				min={1}
				max={1000}
				allowDecimal={false}
				value={draft.most}
				error={wrong("most")}
				onChange={(value) => set({ most: Number(value) || 1 })}
			/>
			<Switch
				label="Tell when it is back to normal"
				checked={draft.back}
				onChange={(event) => set({ back: event.currentTarget.checked })}
			/>
		</div>
	);
}

function Form({ known }: { known: Route | null }) {
	const navigate = useNavigate();
	const { zone } = useZone();
	const { list } = useRules(ROUTES);
	const keep = useKeep(ROUTES, known?.id ?? null);
	const [draft, setDraft] = useState(() => draftOf(known));
	const set = (part: Partial<RouteDraft>) => setDraft((now) => ({ ...now, ...part }));
	const { title, settings } = KINDS[draft.kind];
	const unfit = keep.error instanceof Problem ? keep.error.details.parameter : undefined;
	const wrong = (part: string) => (unfit === part ? keep.error?.message : undefined);
	const placed = ["find", "hours", "wait", "digest", "most", "subject", "text", ...settings.map(({ name }) => name)];
	const save = () =>
		keep.mutate(
			{
				name: draft.name.trim() || title,
				kind: draft.kind,
				settings: filled(settings, draft.settings),
				definition: definitionOf(draft, zone),
			},
			{ onSuccess: () => navigate("/alerts/routes") },
		);
	return (
		<main className={classes.screen}>
			<AlertsHead>
				<Button size="compact-md" variant="default" onClick={() => navigate("/alerts/routes")}>
					Cancel
				</Button>
				<Allowed to="POST /api/alert-routes">
					<Button size="compact-md" loading={keep.isPending} onClick={save}>
						Save
					</Button>
				</Allowed>
			</AlertsHead>
			<div className={classes.editor}>
				<div className={classes.made}>
					<Which draft={draft} set={set} wrong={wrong} />
					<div className={classes.form}>
						{!known && (
							<Select
								label="By"
								data={Object.entries(KINDS).map(([value, kind]) => ({ value, label: kind.title }))}
								value={draft.kind}
								onChange={(value) => value && set({ kind: value as RouteKind })}
								allowDeselect={false}
							/>
						)}
						{draft.kind === "mail" && list.data?.mail_server === "" && (
							<p className={classes.hint}>
								No mail server is set yet: name it as mail_server in the settings file of this computer.
							</p>
						)}
						<SettingFields
							fields={settings}
							given={draft.settings}
							onChange={(given) => set({ settings: given })}
							unfit={unfit}
							problem={keep.error?.message}
						/>
						<When draft={draft} set={set} wrong={wrong} />
						<TextInput
							label="Name"
							placeholder={title}
							maxLength={200}
							value={draft.name}
							onChange={(event) => set({ name: event.currentTarget.value })}
						/>
						<TextInput
							label="Subject"
							description="Liquid; empty for the usual one"
							classNames={{ input: classes.code }}
							placeholder={"{{ alerts[0].severity }}: {{ alerts[0].name }}"}
							value={draft.subject}
							error={wrong("subject")}
							onChange={(event) => set({ subject: event.currentTarget.value })}
						/>
						<Textarea
							label="Text"
							description="Liquid; empty for the usual one"
							classNames={{ input: classes.code }}
							autosize
							minRows={2}
							maxRows={16}
							placeholder={"{% for alert in alerts %}{{ alert.name }} {{ alert.where }} {{ alert.link }}{% endfor %}"}
							value={draft.text}
							error={wrong("text")}
							onChange={(event) => set({ text: event.currentTarget.value })}
						/>
						{draft.text === "" && list.data && (
							<Button size="compact-xs" variant="subtle" onClick={() => set({ text: list.data?.usual.text ?? "" })}>
								Begin with the usual text
							</Button>
						)}
					</div>
					{keep.error && !placed.includes(unfit ?? "") && (
						<p className={classes.problem} role="alert">
							{keep.error.message}
						</p>
					)}
				</div>
				<Preview draft={draft} />
			</div>
		</main>
	);
}

/** Who is told of which alerts, how and when; beside it what is said. */
export function RouteEditor() {
	const { id } = useParams();
	const { list } = useRules(ROUTES);
	if (!id) return <Form known={null} />;
	const known = list.data?.routes.find((route) => String(route.id) === id);
	if (!known)
		return (
			<main className={classes.screen}>{list.data ? "There is no such route any more." : list.error?.message}</main>
		);
	return <Form key={known.id} known={known} />;
}
