import { Button, Menu, NativeSelect, TextInput } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { answer, api } from "../api/client";
import type { Schemas } from "../api/types";
import { More } from "../shared/More";
import { limitable, ROLES, type Role, useSession } from "../shared/session";
import { clock, dayAndYear } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./People.module.css";
import { PeopleHead } from "./PeopleHead";
import { SightField } from "./SightField";
import { Tokens } from "./Tokens";
import { Told } from "./Told";

type Person = Schemas["Person"];
type Invited = Schemas["Invited"];

const PEOPLE = ["people"];
const at = (id: number) => ({ params: { path: { id } } });

function usePeople() {
	const queries = useQueryClient();
	const settled = { onSettled: () => queries.invalidateQueries({ queryKey: PEOPLE }) };
	return {
		list: useQuery({ queryKey: PEOPLE, queryFn: ({ signal }) => answer(api.GET("/api/people", { signal })) }),
		add: useMutation({
			mutationFn: (body: { name: string; role: Role; sight: string }) => answer(api.POST("/api/people", { body })),
			...settled,
		}),
		change: useMutation({
			mutationFn: ({
				id,
				...body
			}: {
				id: number;
				role?: Role;
				mail?: string;
				sight?: string;
				factor?: false;
				disabled?: boolean;
			}) => answer(api.PATCH("/api/people/{id}", { ...at(id), body })),
			...settled,
		}),
		invite: useMutation({
			mutationFn: (id: number) => answer(api.POST("/api/people/{id}/invitation", at(id))),
			...settled,
		}),
	};
}

interface AddPersonProps {
	onAdd: (name: string, role: Role, sight: string) => void;
	adding: boolean;
}

function AddPerson({ onAdd, adding }: AddPersonProps) {
	const [name, setName] = useState("");
	const [role, setRole] = useState<Role>("viewer");
	const [sight, setSight] = useState("");
	return (
		<form
			className={classes.add}
			onSubmit={(event) => {
				event.preventDefault();
				onAdd(name.trim(), role, limitable(role) ? sight : "");
				setName("");
				setSight("");
			}}
		>
			<TextInput
				label="Name"
				value={name}
				maxLength={80}
				onChange={(event) => setName(event.currentTarget.value)}
				required
				withAsterisk={false}
			/>
			<NativeSelect
				label="Role"
				data={ROLES.map(({ value }) => value)}
				value={role}
				onChange={(event) => setRole(event.currentTarget.value as Role)}
			/>
			{limitable(role) && <SightField label="Limited to" value={sight} onChange={setSight} />}
			<p className={classes.says}>{ROLES.find(({ value }) => value === role)?.says}</p>
			<Button type="submit" loading={adding}>
				Add
			</Button>
		</form>
	);
}

/** A text that is changed in its place: kept on Enter, and when it is left. */
function useKept(value: string | null, onChange: (text: string) => void) {
	const [text, setText] = useState(value ?? "");
	const keep = () => {
		if (text.trim() !== (value ?? "")) onChange(text.trim());
	};
	const submit = (event: FormEvent) => {
		event.preventDefault();
		keep();
	};
	return { text, setText, keep, submit };
}

/** What somebody sees, changed in its place. */
function SightOf({ person, onChange }: { person: Person; onChange: (sight: string) => void }) {
	const { text, setText, keep, submit } = useKept(person.own_sight, onChange);
	if (!limitable(person.role)) return <span className={classes.everything}>everything</span>;
	return (
		<form onSubmit={submit}>
			<SightField
				aria-label={`what ${person.name} is limited to`}
				size="xs"
				disabled={person.disabled}
				value={text}
				onChange={setText}
				onBlur={keep}
			/>
			{person.sight !== person.own_sight && <span className={classes.agent}>with teams: {person.sight}</span>}
		</form>
	);
}

/** Where somebody is told of alerts, changed in its place. */
function MailOf({ person, onChange }: { person: Person; onChange: (mail: string) => void }) {
	const { text, setText, keep, submit } = useKept(person.mail, onChange);
	return (
		<form onSubmit={submit}>
			<TextInput
				aria-label={`mail address of ${person.name}`}
				placeholder="none"
				size="xs"
				disabled={person.disabled}
				value={text}
				onChange={(event) => setText(event.currentTarget.value)}
				onBlur={keep}
			/>
		</form>
	);
}

/** Who may log in, and what they may do. */
export function People() {
	const { zone } = useZone();
	const session = useSession();
	const { list, add, change, invite } = usePeople();
	const [invited, setInvited] = useState<Invited | null>(null);
	const problem = list.error ?? add.error ?? change.error ?? invite.error;
	const seen = (person: Person) =>
		person.seen_us
			? `${dayAndYear(person.seen_us, zone)} ${clock(person.seen_us, zone).slice(0, 5)}`
			: "no active session";
	return (
		<main className={classes.screen}>
			<PeopleHead />
			{problem && (
				<p className={classes.problem} role="alert">
					{problem.message}
				</p>
			)}
			{session.alone && (
				<p className={classes.hint}>
					No one logs in here yet. Add the first administrator on this computer:{" "}
					<code>bin/northdrift person add NAME --role administrator</code>. After that everyone logs in.
				</p>
			)}
			{!session.alone && list.data && (
				<AddPerson
					onAdd={(name, role, sight) => add.mutate({ name, role, sight }, { onSuccess: setInvited })}
					adding={add.isPending}
				/>
			)}
			{invited && (
				<Told value={`${window.location.origin}/welcome#${invited.secret}`} onClose={() => setInvited(null)}>
					Give this link to <b>{invited.name}</b>. It sets a password once and expires in three days. It is not shown
					again.
				</Told>
			)}
			{list.data && list.data.people.length > 0 && (
				<table className={classes.table}>
					<thead>
						<tr>
							<th scope="col">Name</th>
							<th scope="col">Role</th>
							<th scope="col">Limited to</th>
							<th scope="col">Told of alerts at</th>
							<th scope="col">Last seen</th>
							<th scope="col" aria-label="actions" />
						</tr>
					</thead>
					<tbody>
						{list.data.people.map((person) => (
							<tr key={person.id} data-person={person.name} data-disabled={person.disabled || undefined}>
								<td>
									<b>{person.name}</b>
									{person.id === session.person?.id && <span className={classes.second}>you</span>}
									{person.provider && <span className={classes.second}>single sign-on</span>}
									{person.teams.length > 0 && <span className={classes.agent}>{person.teams.join(", ")}</span>}
									{person.factor && <span className={classes.second}>two-factor</span>}
								</td>
								<td>
									<NativeSelect
										size="xs"
										aria-label={`role of ${person.name}`}
										data={ROLES.map(({ value }) => value)}
										value={person.role}
										disabled={person.disabled}
										onChange={(event) => change.mutate({ id: person.id, role: event.currentTarget.value as Role })}
									/>
								</td>
								<td>
									<SightOf person={person} onChange={(sight) => change.mutate({ id: person.id, sight })} />
								</td>
								<td>
									<MailOf person={person} onChange={(mail) => change.mutate({ id: person.id, mail })} />
								</td>
								<td className={classes.second}>
									{person.disabled
										? "login disabled"
										: person.password || person.provider
											? seen(person)
											: "no password yet"}
								</td>
								<td className={classes.actions}>
									<More of={person.name}>
										<Menu.Item
											disabled={person.disabled}
											onClick={() => invite.mutate(person.id, { onSuccess: setInvited })}
										>
											Create password reset link
										</Menu.Item>
										<Menu.Item
											disabled={!person.factor}
											onClick={() => change.mutate({ id: person.id, factor: false })}
										>
											Turn off two-factor login
										</Menu.Item>
										<Menu.Item onClick={() => change.mutate({ id: person.id, disabled: !person.disabled })}>
											{person.disabled ? "Enable login" : "Disable login"}
										</Menu.Item>
									</More>
								</td>
							</tr>
						))}
					</tbody>
				</table>
			)}
			{!session.alone && list.data && <Tokens />}
		</main>
	);
}
