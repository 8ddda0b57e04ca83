import { Button, Modal, Radio, Select, TextInput } from "@mantine/core";
import { useState } from "react";
import classes from "./Alerts.module.css";
import { type AlertDetail, findOf, useQuiets } from "./api";

const HOUR_US = 3_600_000_000;
const SPANS = [
	{ value: "1", label: "an hour" },
	{ value: "8", label: "eight hours" },
	{ value: "24", label: "a day" },
	{ value: "168", label: "a week" },
	{ value: "", label: "until somebody ends it" },
];

/** Has alerts like this one told to nobody, for a time. */
export function MuteForm({ alert, onClose }: { alert: AlertDetail; onClose: () => void }) {
	const { add } = useQuiets();
	const [what, setWhat] = useState("key");
	const [hours, setHours] = useState("8");
	const [why, setWhy] = useState("");
	const whole = { kind: "mute" as const, why: why.trim() };
	const scopes: Record<string, { label: string; find: string; rule_id?: number } | null> = {
		key: {
			label: `“${alert.name}” of ${alert.key.map(({ value }) => value).join(", ") || "all"}`,
			find: findOf(alert.key),
			rule_id: alert.rule_id,
		},
		rule: alert.key.length > 0 ? { label: `“${alert.name}”, wherever`, find: "", rule_id: alert.rule_id } : null,
		machine: alert.machine
			? {
					label: `everything of ${alert.machine}`,
					find: findOf([{ field: "host.name", value: alert.machine }]),
				}
			: null,
	};
	const submit = () => {
		const scope = scopes[what];
		if (!scope) return;
		const { find, rule_id } = scope;
		const until_us = hours ? Date.now() * 1000 + Number(hours) * HOUR_US : null;
		add.mutate({ ...whole, find, ...(rule_id && { rule_id }), until_us }, { onSuccess: onClose });
	};
	return (
		<Modal opened onClose={onClose} title="Mute alerts">
			<form
				className={classes.form}
				onSubmit={(event) => {
					event.preventDefault();
					submit();
				}}
			>
				<Radio.Group label="What" value={what} onChange={setWhat}>
					{Object.entries(scopes).map(
						([value, scope]) => scope && <Radio key={value} value={value} label={scope.label} mt={6} />,
					)}
				</Radio.Group>
				<Select
					label="For"
					data={SPANS}
					value={hours}
					onChange={(value) => setHours(value ?? "")}
					allowDeselect={false}
				/>
				<TextInput
					label="Why"
					placeholder="known, waits for a part"
					value={why}
					onChange={(event) => setWhy(event.currentTarget.value)}
					data-autofocus
				/>
				<p className={classes.hint}>They are raised all the same and stand under “quiet”; nobody is told.</p>
				{add.error && (
					<p className={classes.problem} role="alert">
						{add.error.message}
					</p>
				)}
				<Button type="submit" loading={add.isPending}>
					Mute
				</Button>
			</form>
		</Modal>
	);
}
