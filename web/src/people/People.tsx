import { Button, Menu, NativeSelect, TextInput } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../api/client";
import type { Schemas } from "../api/types";
import { More } from "../shared/More";
import { clock, dayAndYear } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./People.module.css";
import { PeopleHead } from "./PeopleHead";
import { ROLES, type Role, useSession } from "./session";
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
			mutationFn: (body: { name: string; role: Role }) => answer(api.POST("/api/people", { body })),
			...settled,
		}),
		change: useMutation({
			mutationFn: ({ id, ...body }: { id: number; role?: Role; disabled?: boolean }) =>
				answer(api.PATCH("/api/people/{id}", { ...at(id), body })),
			...settled,
		}),
		invite: useMutation({
			mutationFn: (id: number) => answer(api.POST("/api/people/{id}/invitation", at(id))),
			...settled,
		}),
	};
}

function AddPerson({ onAdd, adding }: { onAdd: (name: string, role: Role) => void; adding: boolean }) {
	const [name, setName] = useState("");
	const [role, setRole] = useState<Role>("viewer");
	return (
		<form
			className={classes.add}
			onSubmit={(event) => {
				event.preventDefault();
				onAdd(name.trim(), role);
				setName("");
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
			<p className={classes.says}>{ROLES.find(({ value }) => value === role)?.says}</p>
			<Button type="submit" loading={adding}>
				Add
			</Button>
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
					onAdd={(name, role) => add.mutate({ name, role }, { onSuccess: setInvited })}
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
								<td className={classes.second}>
									{person.disabled ? "login disabled" : person.password ? seen(person) : "no password yet"}
								</td>
								<td className={classes.actions}>
									<More of={person.name}>
										<Menu.Item
											disabled={person.disabled}
											onClick={() => invite.mutate(person.id, { onSuccess: setInvited })}
										>
											Create password reset link
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
