import { Button, Modal, NumberInput, Select, TextInput } from "@mantine/core";
import { useState } from "react";
import { Problem } from "../api/client";
import { type Feed, type Kind, useAdd, useAlter } from "./api";
import classes from "./Intake.module.css";
import { ADDED, added, KINDS } from "./kinds";
import { filled, SettingFields, typed } from "./SettingFields";

/** Adding a source of lines, or changing one. */
export function FeedDialog({
	feed,
	onClose,
	onAdded,
}: {
	feed: Feed | null;
	onClose: () => void;
	onAdded: (feed: Feed) => void;
}) {
	const [kind, setKind] = useState<Kind>(feed?.kind ?? "tcp");
	const [name, setName] = useState(feed?.name ?? "");
	const [settings, setSettings] = useState(() => typed(feed?.settings));
	const [days, setDays] = useState<string | number>(feed?.keep_days ?? "");
	const add = useAdd();
	const alter = useAlter();
	const problem = add.error ?? alter.error;
	const unfit = problem instanceof Problem ? problem.details.parameter : undefined;
	const fields = KINDS[kind].settings;
	const submit = () => {
		const given = filled(fields, settings);
		const called = name.trim() || KINDS[kind].title;
		if (feed)
			alter.mutate(
				{ id: feed.id, name: called, settings: given, keep_days: days === "" ? null : Number(days) },
				{ onSuccess: onClose },
			);
		else if (added(kind)) add.mutate({ name: called, kind, settings: given }, { onSuccess: onAdded });
	};
	return (
		<Modal opened onClose={onClose} title={feed ? `Change ${feed.name}` : "Add a source"} size="lg">
			<form
				className={classes.form}
				onSubmit={(event) => {
					event.preventDefault();
					submit();
				}}
			>
				{!feed && (
					<Select
						label="Lines come as"
						data={ADDED.map((value) => ({ value, label: KINDS[value].title }))}
						value={kind}
						onChange={(value) => value && setKind(value as Kind)}
						allowDeselect={false}
						description="The output of a command is added on the command line: northdrift feed add command"
					/>
				)}
				<TextInput
					label="Name"
					placeholder={KINDS[kind].title}
					value={name}
					onChange={(event) => setName(event.currentTarget.value)}
					data-autofocus
				/>
				<SettingFields
					fields={fields}
					given={settings}
					onChange={setSettings}
					unfit={unfit}
					problem={problem?.message}
				/>
				{feed && (
					<NumberInput
						label="Lines are kept for, in days"
						placeholder="as all others"
						min={1}
						max={36_500}
						allowDecimal={false}
						value={days}
						onChange={setDays}
					/>
				)}
				{problem && !fields.some((field) => field.name === unfit) && <p role="alert">{problem.message}</p>}
				<div className={classes.buttons}>
					<Button variant="default" onClick={onClose}>
						Cancel
					</Button>
					<Button type="submit" loading={add.isPending || alter.isPending}>
						{feed ? "Change" : "Add"}
					</Button>
				</div>
			</form>
		</Modal>
	);
}
