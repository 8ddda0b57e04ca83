import { Button, Menu, Modal, Select, TextInput } from "@mantine/core";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { answer, api, Problem } from "../api/client";
import type { Schemas } from "../api/types";
import { type Calls, useKeep, useRules } from "../rules/api";
import { authors } from "../shared/authors";
import { Gone, IntakeHead } from "../shared/IntakeHead";
import { More } from "../shared/More";
import { Allowed } from "../shared/session";
import { number } from "../shared/time";
import classes from "./Intake.module.css";
import { filled, type Setting, SettingFields, typed } from "./SettingFields";

type Relay = Schemas["Relay"];
type Kind = Relay["kind"];
type Draft = Pick<Relay, "name" | "kind" | "settings" | "find">;

const at = (id: number) => ({ params: { path: { id } } });
const RELAYS: Calls<Schemas["Relays"], Relay, Draft> = {
	key: "/api/relays",
	list: (signal) => answer(api.GET("/api/relays", { signal })),
	add: (body) => answer(api.POST("/api/relays", { body })),
	alter: (id, body) => answer(api.PATCH("/api/relays/{id}", { ...at(id), body })),
	drop: (id) => answer(api.DELETE("/api/relays/{id}", at(id))),
	restore: (id) => answer(api.POST("/api/relays/{id}/restored", at(id))),
};

const HOST: Setting = { name: "host", label: "Machine", placeholder: "logs.example" };
const CERTIFICATE: Setting = {
	name: "certificate",
	label: "Its certificate",
	description: "PEM; empty for those that this computer trusts",
	placeholder: "-----BEGIN CERTIFICATE-----",
	long: true,
};
const KINDS: Record<Kind, { title: string; settings: Setting[] }> = {
	tcp: { title: "syslog over TCP", settings: [HOST, { name: "port", label: "Port", placeholder: "514" }] },
	tls: {
		title: "syslog over TLS",
		settings: [HOST, { name: "port", label: "Port", placeholder: "6514" }, CERTIFICATE],
	},
	http: {
		title: "OpenTelemetry over HTTP",
		settings: [
			{ name: "url", label: "Address", placeholder: "https://logs.example/v1/logs" },
			{
				name: "token",
				label: "Token",
				description: "sent as a bearer token; one that was set stays when this is empty",
			},
			CERTIFICATE,
		],
	},
};

function place({ settings }: Relay): string {
	return settings.url ? String(settings.url) : `${settings.host}:${settings.port}`;
}

function state(relay: Relay): string {
	if (relay.paused) return "‖ paused";
	if (relay.problem) return "✕ tries again";
	return relay.waiting > 0 ? "● sending" : "● up to date";
}

function RelayDialog({ relay, find: given, onClose }: { relay: Relay | null; find: string; onClose: () => void }) {
	const [kind, setKind] = useState<Kind>(relay?.kind ?? "tcp");
	const [name, setName] = useState(relay?.name ?? "");
	const [find, setFind] = useState(relay?.find ?? given);
	const [settings, setSettings] = useState(() => typed(relay?.settings));
	const keep = useKeep(RELAYS, relay?.id ?? null);
	const unfit = keep.error instanceof Problem ? (keep.error.details.parameter ?? "find") : undefined;
	const fields = KINDS[kind].settings;
	const submit = () => {
		keep.mutate(
			{ name: name.trim() || KINDS[kind].title, kind, find, settings: filled(fields, settings) },
			{ onSuccess: onClose },
		);
	};
	return (
		<Modal opened onClose={onClose} title={relay ? `Change ${relay.name}` : "Send lines on"} size="lg">
			<form
				className={classes.form}
				onSubmit={(event) => {
					event.preventDefault();
					submit();
				}}
			>
				{!relay && (
					<Select
						label="They go as"
						data={Object.entries(KINDS).map(([value, { title }]) => ({ value, label: title }))}
						value={kind}
						onChange={(value) => value && setKind(value as Kind)}
						allowDeselect={false}
					/>
				)}
				<SettingFields
					fields={fields}
					given={settings}
					onChange={setSettings}
					unfit={unfit}
					problem={keep.error?.message}
				/>
				<TextInput
					label="Only lines with"
					description="a find text; empty for all that come in from now on"
					value={find}
					onChange={(event) => setFind(event.currentTarget.value)}
					error={unfit === "find" ? keep.error?.message : undefined}
				/>
				<TextInput
					label="Name"
					placeholder={KINDS[kind].title}
					value={name}
					onChange={(event) => setName(event.currentTarget.value)}
				/>
				{keep.error && unfit !== "find" && !fields.some((field) => field.name === unfit) && (
					<p role="alert">{keep.error.message}</p>
				)}
				<div className={classes.buttons}>
					<Button variant="default" onClick={onClose}>
						Cancel
					</Button>
					<Button type="submit" loading={keep.isPending}>
						{relay ? "Change" : "Send on"}
					</Button>
				</div>
			</form>
		</Modal>
	);
}

/** Where lines are sent on to. */
export function Relays() {
	const [params, setParams] = useSearchParams();
	const find = params.get("find");
	const { list, alter, drop, restore } = useRules(RELAYS, ({ relays }) => relays.some((relay) => relay.waiting > 0));
	const [changing, setChanging] = useState<Relay | "new" | null>(find === null ? null : "new");
	const [gone, setGone] = useState<Relay | null>(null);
	const relays = list.data?.relays ?? [];
	return (
		<main className={classes.screen}>
			<IntakeHead
				action={
					<Allowed to="POST /api/relays">
						<Button onClick={() => setChanging("new")}>Send lines on</Button>
					</Allowed>
				}
			/>
			{list.error && <p className={classes.problem}>{list.error.message}</p>}
			{gone && (
				<Gone onUndo={() => restore.mutate(gone.id, { onSuccess: () => setGone(null) })}>
					“{gone.name}” is removed; lines are not sent there any more.
				</Gone>
			)}
			{list.data && relays.length === 0 && (
				<p className={classes.said}>
					Lines stay here. They can be sent on as well, all of them or those of a question, to another system that takes
					syslog (RFC 5424) or OpenTelemetry logs.
				</p>
			)}
			{relays.length > 0 && (
				<div className={classes.scroll}>
					<table className={classes.table}>
						<thead>
							<tr>
								<th scope="col">Sent to</th>
								<th scope="col">Lines with</th>
								<th scope="col">State</th>
								<th scope="col">sent</th>
								<th scope="col">waiting</th>
								<th scope="col">refused</th>
								<th scope="col">forgotten</th>
								<th scope="col" aria-label="actions" />
							</tr>
						</thead>
						<tbody>
							{relays.map((relay) => (
								<tr key={relay.id} className={classes.feed} data-relay={relay.name}>
									<td>
										<strong>{relay.name}</strong>
										<span className={classes.said}>
											{KINDS[relay.kind].title} · {place(relay)}
											{authors(relay)}
										</span>
									</td>
									<td className={classes.line}>{relay.find || "all"}</td>
									<td>
										<span
											className={classes.state}
											data-state={relay.paused ? "paused" : relay.problem ? "problem" : "running"}
										>
											{state(relay)}
										</span>
										{relay.problem && !relay.paused && <span className={classes.problem}>{relay.problem}</span>}
									</td>
									<td className={classes.number}>{number(relay.sent)}</td>
									<td className={classes.number}>{number(relay.waiting)}</td>
									<td className={classes.number} data-bad={relay.refused > 0 || undefined}>
										{number(relay.refused)}
									</td>
									<td className={classes.number} data-bad={relay.gone > 0 || undefined}>
										{number(relay.gone)}
									</td>
									<td className={classes.actions}>
										<Allowed to="PATCH /api/relays/{id}">
											<Button
												size="compact-xs"
												variant="subtle"
												onClick={() => alter.mutate({ id: relay.id, paused: !relay.paused })}
											>
												{relay.paused ? "Go on" : "Pause"}
											</Button>
										</Allowed>
										<Allowed to="PATCH /api/relays/{id}">
											<More of={relay.name}>
												<Menu.Item onClick={() => setChanging(relay)}>Change</Menu.Item>
												<Menu.Item onClick={() => drop.mutate(relay.id, { onSuccess: () => setGone(relay) })}>
													Remove
												</Menu.Item>
											</More>
										</Allowed>
									</td>
								</tr>
							))}
						</tbody>
					</table>
				</div>
			)}
			{changing && (
				<RelayDialog
					relay={changing === "new" ? null : changing}
					find={find ?? ""}
					onClose={() => {
						setChanging(null);
						setParams({}, { replace: true });
					}}
				/>
			)}
		</main>
	);
}
