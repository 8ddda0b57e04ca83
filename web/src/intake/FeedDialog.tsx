import { Button, Modal, NumberInput, Select, Textarea, TextInput } from "@mantine/core";
import { useState } from "react";
import { Problem } from "../api/client";
import { type Feed, type Kind, useAdd, useAlter } from "./api";
import classes from "./Intake.module.css";
import { KINDS } from "./kinds";

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
	const [settings, setSettings] = useState<Record<string, string>>(
		Object.fromEntries(Object.entries(feed?.settings ?? {}).map(([key, value]) => [key, String(value)])),
	);
	const [days, setDays] = useState<string | number>(feed?.keep_days ?? "");
	const add = useAdd();
	const alter = useAlter();
	const problem = add.error ?? alter.error;
	const unfit = problem instanceof Problem ? problem.details.parameter : undefined;
	const fields = KINDS[kind].settings;
	const submit = () => {
		const given = Object.fromEntries(fields.map((field) => [field.name, settings[field.name] ?? ""]));
		const called = name.trim() || KINDS[kind].title;
		if (feed)
			alter.mutate(
				{ id: feed.id, name: called, settings: given, keep_days: days === "" ? null : Number(days) },
				{ onSuccess: onClose },
			);
		else add.mutate({ name: called, kind, settings: given }, { onSuccess: onAdded });
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
						data={Object.entries(KINDS)
							.filter(([value]) => value !== "command")
							.map(([value, { title }]) => ({ value, label: title }))}
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
				{fields.map((field) => {
					const Input = field.lines ? Textarea : TextInput;
					return (
						<Input
							key={field.name}
							label={field.label}
							description={field.description}
							placeholder={field.placeholder}
							value={settings[field.name] ?? ""}
							onChange={(event) => setSettings({ ...settings, [field.name]: event.currentTarget.value })}
							error={unfit === field.name ? problem?.message : undefined}
						/>
					);
				})}
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
