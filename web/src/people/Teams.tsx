import { Button, Menu, Modal, MultiSelect, TextInput } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../api/client";
import type { Schemas } from "../api/types";
import { More } from "../shared/More";
import { SESSION, useSession } from "../shared/session";
import classes from "./People.module.css";
import { PeopleHead } from "./PeopleHead";
import { SightField } from "./SightField";

type Team = Schemas["Team"];
type Draft = { name: string; people: number[]; sight: string };

const TEAMS = ["teams"];
const EMPTY: Draft = { name: "", people: [], sight: "" };
const at = (id: number) => ({ params: { path: { id } } });

function useTeams() {
	const queries = useQueryClient();
	const settled = {
		onSuccess: (teams: Schemas["Teams"]) => {
			queries.setQueryData(TEAMS, teams);
			for (const queryKey of [SESSION, ["people"], ["searches"]]) void queries.invalidateQueries({ queryKey });
		},
	};
	return {
		list: useQuery({ queryKey: TEAMS, queryFn: ({ signal }) => answer(api.GET("/api/teams", { signal })) }),
		keep: useMutation({
			mutationFn: ({ id, ...body }: Draft & { id: number | null }) =>
				answer(id === null ? api.POST("/api/teams", { body }) : api.PATCH("/api/teams/{id}", { ...at(id), body })),
			...settled,
		}),
		remove: useMutation({
			mutationFn: (id: number) => answer(api.DELETE("/api/teams/{id}", at(id))),
			...settled,
		}),
	};
}

interface TeamFormProps {
	team: Team | null;
	saving: boolean;
	problem: Error | null;
	onSave: (draft: Draft) => void;
}

function TeamForm({ team, saving, problem, onSave }: TeamFormProps) {
	const [draft, setDraft] = useState<Draft>(
		team ? { name: team.name, people: team.people.map(({ id }) => id), sight: team.sight ?? "" } : EMPTY,
	);
	const people = useQuery({
		queryKey: ["people"],
		queryFn: ({ signal }) => answer(api.GET("/api/people", { signal })),
	});
	const set = (part: Partial<Draft>) => setDraft((now) => ({ ...now, ...part }));
	return (
		<form
			className={classes.form}
			onSubmit={(event) => {
				event.preventDefault();
				onSave(draft);
			}}
		>
			<TextInput
				label="Name"
				value={draft.name}
				maxLength={80}
				onChange={(event) => set({ name: event.currentTarget.value })}
				required
				withAsterisk={false}
				data-autofocus
			/>
			<MultiSelect
				label="Members"
				searchable
				hidePickedOptions
				data={(people.data?.people ?? []).map(({ id, name }) => ({ value: String(id), label: name }))}
				value={draft.people.map(String)}
				onChange={(ids) => set({ people: ids.map(Number) })}
			/>
			<SightField
				label="Limited to"
				description="What its viewers and responders see. In several limited teams, they see what any of them sees; operators and administrators see everything."
				value={draft.sight}
				onChange={(sight) => set({ sight })}
			/>
			{problem && (
				<p className={classes.problem} role="alert">
					{problem.message}
				</p>
			)}
			<Button type="submit" loading={saving}>
				Save
			</Button>
		</form>
	);
}

/** Groups of people, what they share and what they see. */
export function Teams() {
	const { alone } = useSession();
	const { list, keep, remove } = useTeams();
	const [open, setOpen] = useState<Team | "new" | null>(null);
	const edit = (team: Team | "new" | null) => {
		keep.reset();
		remove.reset();
		setOpen(team);
	};
	const known = open === "new" ? null : open;
	const problem = list.error ?? remove.error;
	return (
		<main className={classes.screen}>
			<PeopleHead>
				{!alone && (
					<Button size="compact-md" onClick={() => edit("new")}>
						Add team
					</Button>
				)}
			</PeopleHead>
			{problem && (
				<p className={classes.problem} role="alert">
					{problem.message}
				</p>
			)}
			{list.data?.teams.length === 0 && (
				<p className={classes.hint}>
					No teams yet. A team shares saved questions that others do not see, and can limit what its members see.
				</p>
			)}
			{list.data && list.data.teams.length > 0 && (
				<table className={classes.table}>
					<thead>
						<tr>
							<th scope="col">Team</th>
							<th scope="col">Members</th>
							<th scope="col">Limited to</th>
							<th scope="col" aria-label="actions" />
						</tr>
					</thead>
					<tbody>
						{list.data.teams.map((team) => (
							<tr key={team.id} data-team={team.name}>
								<td>
									<b>{team.name}</b>
								</td>
								<td>{team.people.map(({ name }) => name).join(", ") || "nobody"}</td>
								<td>{team.sight ?? <span className={classes.everything}>no limit</span>}</td>
								<td className={classes.actions}>
									<More of={team.name}>
										<Menu.Item onClick={() => edit(team)}>Edit</Menu.Item>
										<Menu.Item onClick={() => remove.mutate(team.id)}>
											{team.sight ? "Delete team and its limit" : "Delete team"}
										</Menu.Item>
									</More>
								</td>
							</tr>
						))}
					</tbody>
				</table>
			)}
			<Modal opened={open !== null} onClose={() => edit(null)} title={known ? `Team ${known.name}` : "New team"}>
				<TeamForm
					team={known}
					saving={keep.isPending}
					problem={keep.error}
					onSave={(draft) => keep.mutate({ id: known?.id ?? null, ...draft }, { onSuccess: () => setOpen(null) })}
				/>
			</Modal>
		</main>
	);
}
