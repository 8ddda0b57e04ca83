import { Button, NumberInput } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answer, api } from "../api/client";
import type { Schemas } from "../api/types";
import classes from "./People.module.css";
import { PeopleHead } from "./PeopleHead";

type Limits = Schemas["PageSettings"];
type Entry = Schemas["Settings"]["entries"][number];

const SETTINGS = ["settings"];
const DEFAULT_HOURS = 12;
const DEFAULT_DAYS = 7;

/** A number, or nothing where the field is empty. */
const whole = (value: string | number) => (value === "" ? null : Number(value));

interface LimitsFormProps {
	limits: Limits;
	saving: boolean;
	saved: boolean;
	onSave: (limits: Limits) => void;
}

function LimitsForm({ limits, saving, saved, onSave }: LimitsFormProps) {
	const [hours, setHours] = useState<string | number>(limits.idle_hours);
	const [days, setDays] = useState<string | number>(limits.login_days);
	const [audit, setAudit] = useState<string | number>(limits.audit_days ?? "");
	const [normal, setNormal] = useState<string | number>(limits.normal_days);
	return (
		<form
			className={classes.add}
			onSubmit={(event) => {
				event.preventDefault();
				onSave({
					idle_hours: whole(hours) ?? DEFAULT_HOURS,
					login_days: whole(days) ?? DEFAULT_DAYS,
					audit_days: whole(audit),
					normal_days: whole(normal) ?? DEFAULT_DAYS,
				});
			}}
		>
			<NumberInput
				label="Log out after inactivity (hours)"
				min={1}
				max={720}
				allowDecimal={false}
				placeholder={String(DEFAULT_HOURS)}
				value={hours}
				onChange={setHours}
			/>
			<NumberInput
				label="Log out at the latest after (days)"
				min={1}
				max={365}
				allowDecimal={false}
				placeholder={String(DEFAULT_DAYS)}
				value={days}
				onChange={setDays}
			/>
			<NumberInput
				label="Keep the audit trail for (days)"
				description="its entries among the lines are kept as their source says"
				min={1}
				max={36_500}
				allowDecimal={false}
				placeholder="forever"
				value={audit}
				onChange={setAudit}
			/>
			<NumberInput
				label="Take what is unusual as normal after (days)"
				min={1}
				max={365}
				allowDecimal={false}
				placeholder={String(DEFAULT_DAYS)}
				value={normal}
				onChange={setNormal}
			/>
			<div className={classes.row}>
				<Button type="submit" loading={saving}>
					Save
				</Button>
				{saved && <span role="status">Saved</span>}
			</div>
		</form>
	);
}

const FROM: Record<Entry["from"], string> = { environment: "environment", file: "settings file", default: "default" };

function FileTable({ entries }: { entries: Entry[] }) {
	return (
		<table className={classes.table}>
			<thead>
				<tr>
					<th scope="col">Setting</th>
					<th scope="col">Value</th>
					<th scope="col">From</th>
				</tr>
			</thead>
			<tbody>
				{entries.map(({ name, says, value, from }) => (
					<tr key={name} data-setting={name}>
						<td>
							<code>{name}</code>
							<span className={classes.agent}>{says}</span>
						</td>
						<td>{value.length > 0 ? value.join(", ") : <span className={classes.everything}>none</span>}</td>
						<td className={from === "default" ? classes.everything : undefined}>{FROM[from]}</td>
					</tr>
				))}
			</tbody>
		</table>
	);
}

/** What is set for all of it: here, and on the computer that it runs on. */
export function SettingsView() {
	const queries = useQueryClient();
	const { data, error } = useQuery({
		queryKey: SETTINGS,
		queryFn: ({ signal }) => answer(api.GET("/api/settings", { signal })),
	});
	const save = useMutation({
		mutationFn: (body: Limits) => answer(api.PUT("/api/settings", { body })),
		onSuccess: (now) => queries.setQueryData(SETTINGS, now),
	});
	const problem = error ?? save.error;
	return (
		<main className={classes.screen}>
			<PeopleHead />
			{problem && (
				<p className={classes.problem} role="alert">
					{problem.message}
				</p>
			)}
			{data && (
				<>
					<LimitsForm
						limits={data.settings}
						saving={save.isPending}
						saved={save.isSuccess}
						onSave={(limits) => save.mutate(limits)}
					/>
					<p className={classes.hint}>
						How long lines are kept, and how large an upload may be: <Link to="/intake/keeping">Keeping</Link>
					</p>
					<section className={classes.tokens} aria-label="Settings file">
						<h2>Settings of this computer</h2>
						<p className={classes.hint}>
							These are set by whoever has a shell here, in <code>{data.file}</code> or the environment.
						</p>
						{data.problem ? (
							<p className={classes.problem} role="alert">
								{data.problem}
							</p>
						) : (
							<FileTable entries={data.entries} />
						)}
					</section>
				</>
			)}
		</main>
	);
}
