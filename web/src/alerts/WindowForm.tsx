import { Button, Modal, MultiSelect, NativeSelect, SegmentedControl, TextInput } from "@mantine/core";
import { DateTimePicker } from "@mantine/dates";
import { useState } from "react";
import { Problem } from "../api/client";
import { fromWall, wall } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Alerts.module.css";
import { useAlertRules, useQuiets } from "./api";
import { HoursFields } from "./HoursFields";
import { type HoursDraft, hoursDraft, hoursOf } from "./hours";

const MINUTE_US = 60_000_000;
const HOUR_US = 60 * MINUTE_US;
/** In minutes. */
const LASTS = [
	{ value: "10", label: "10 minutes" },
	{ value: "30", label: "half an hour" },
	{ value: "60", label: "an hour" },
	{ value: "120", label: "two hours" },
	{ value: "480", label: "eight hours" },
];
/** Parts beside which it stands what is wrong with them. */
const PLACED = ["find", "until_us", "entries", "hours"];
const WHEN = [
	{ value: "once", label: "from when to when" },
	{ value: "hours", label: "at some hours" },
	{ value: "told", label: "whenever the logbook tells it" },
] as const;
type When = (typeof WHEN)[number]["value"];

/** Planned work: once, at the same hours again and again, or whenever the logbook tells it. */
export function WindowForm({ onClose }: { onClose: () => void }) {
	const { zone } = useZone();
	const { add } = useQuiets();
	const [find, setFind] = useState("");
	const [why, setWhy] = useState("");
	const [when, setWhen] = useState<When>("once");
	const [rule, setRule] = useState("");
	const [hours, setHours] = useState<HoursDraft>(() => hoursDraft(undefined));
	const [entries, setEntries] = useState<string[]>([]);
	const [says, setSays] = useState("");
	const [lasts, setLasts] = useState("30");
	const known = useAlertRules().list.data;
	const kinds = known?.kinds ?? [];
	const [from, setFrom] = useState(() => Date.now() * 1000);
	const [until, setUntil] = useState(() => Date.now() * 1000 + 2 * HOUR_US);
	const unfit = add.error instanceof Problem ? (add.error.details.parameter ?? "find") : undefined;
	return (
		<Modal opened onClose={onClose} title="New maintenance window" size="lg">
			<form
				className={classes.form}
				onSubmit={(event) => {
					event.preventDefault();
					const times = {
						once: { from_us: from, until_us: until },
						hours: { until_us: null, hours: hoursOf(hours, zone) ?? {} },
						told: { until_us: null, entries, says: says.trim(), lasts_us: Number(lasts) * MINUTE_US },
					}[when];
					const of = rule ? { rule_id: Number(rule) } : {};
					add.mutate({ kind: "maintenance", find, why: why.trim(), ...of, ...times }, { onSuccess: onClose });
				}}
			>
				<SegmentedControl
					aria-label="When"
					value={when}
					onChange={(value) => setWhen(value as When)}
					data={[...WHEN]}
				/>
				<TextInput
					label="Machines"
					description="a find text on the machine, its site or tags"
					placeholder={when === "told" || rule ? "all machines; or such as host.site = auk" : "host.site = auk"}
					classNames={{ input: classes.code }}
					value={find}
					error={unfit === "find" ? add.error?.message : undefined}
					onChange={(event) => setFind(event.currentTarget.value)}
					data-autofocus
				/>
				<NativeSelect
					label="Rule"
					data={[
						{ value: "", label: "all rules" },
						...(known?.rules ?? []).map(({ id, name }) => ({ value: String(id), label: name })),
					]}
					value={rule}
					onChange={(event) => setRule(event.currentTarget.value)}
				/>
				{when === "hours" && (
					<HoursFields
						draft={hours}
						set={(part) => setHours((before) => ({ ...before, ...part }))}
						error={unfit === "hours" ? add.error?.message : undefined}
					/>
				)}
				{when === "told" && (
					<>
						<MultiSelect
							label="Entries of the logbook"
							description="of the machine itself"
							data={kinds.map(({ name, title }) => ({ value: name, label: title }))}
							value={entries}
							error={unfit === "entries" ? add.error?.message : undefined}
							onChange={setEntries}
							comboboxProps={{ withinPortal: false }}
						/>
						<div className={classes.pair}>
							<TextInput
								label="That say"
								placeholder="anything; or such as planned"
								value={says}
								onChange={(event) => setSays(event.currentTarget.value)}
							/>
							<NativeSelect
								label="For how long behind them"
								data={LASTS}
								value={lasts}
								onChange={(event) => setLasts(event.currentTarget.value)}
							/>
						</div>
					</>
				)}
				{when === "once" && (
					<div className={classes.pair}>
						<DateTimePicker
							label="From"
							valueFormat="D MMM YYYY HH:mm"
							value={wall(from, zone)}
							onChange={(value) => value && setFrom(fromWall(value, zone))}
							popoverProps={{ withinPortal: false }}
						/>
						<DateTimePicker
							label="Until"
							valueFormat="D MMM YYYY HH:mm"
							value={wall(until, zone)}
							error={unfit === "until_us" ? add.error?.message : undefined}
							onChange={(value) => value && setUntil(fromWall(value, zone))}
							popoverProps={{ withinPortal: false }}
						/>
					</div>
				)}
				<TextInput
					label="Why"
					placeholder="new cables at Little Auk"
					value={why}
					onChange={(event) => setWhy(event.currentTarget.value)}
				/>
				{add.error && !PLACED.includes(unfit ?? "") && (
					<p className={classes.problem} role="alert">
						{add.error.message}
					</p>
				)}
				<Button type="submit" loading={add.isPending}>
					Save
				</Button>
			</form>
		</Modal>
	);
}
