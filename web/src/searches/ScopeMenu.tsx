import { ActionIcon, Button, Menu, Modal, MultiSelect, TextInput } from "@mantine/core";
import { IconTrash } from "@tabler/icons-react";
import { useState } from "react";
import type { Status } from "../api/types";
import sentence from "../investigate/Sentence.module.css";
import { type Change, type Question, quote } from "../shared/question";
import { useBarred } from "../shared/session";
import { useDeleteScope, useSaveScope, useScopes } from "./api";

interface Props {
	question: Question;
	change: Change;
	status: Status;
}

function oneOf(field: string, names: string[]): string {
	return names.length === 1 ? `${field} = ${quote(names[0] ?? "")}` : `${field} in (${names.map(quote).join(", ")})`;
}

function NewScope({
	question,
	status,
	onClose,
	onSaved,
}: {
	question: Question;
	status: Status;
	onClose: () => void;
	onSaved: (name: string) => void;
}) {
	const [name, setName] = useState("");
	const [machines, setMachines] = useState<string[]>([]);
	const [services, setServices] = useState<string[]>([]);
	const [more, setMore] = useState(question.chips.join(" and "));
	const save = useSaveScope();
	const find = [
		machines.length && oneOf("host.name", machines),
		services.length && oneOf("service.name", services),
		more.trim() && `(${more.trim()})`,
	]
		.filter(Boolean)
		.join(" and ");
	return (
		<Modal opened onClose={onClose} title="New scope" lockScroll={false}>
			<form
				onSubmit={(event) => {
					event.preventDefault();
					save.mutate({ name: name.trim(), find }, { onSuccess: (scope) => onSaved(scope.name) });
				}}
			>
				<TextInput
					label="Name"
					required
					data-autofocus
					value={name}
					onChange={(event) => setName(event.currentTarget.value)}
				/>
				<MultiSelect
					label="Machines"
					placeholder={machines.length ? "" : "all"}
					data={status.machines}
					value={machines}
					onChange={setMachines}
					searchable
					clearable
					mt="xs"
				/>
				<MultiSelect
					label="Services"
					placeholder={services.length ? "" : "all"}
					data={status.services}
					value={services}
					onChange={setServices}
					searchable
					clearable
					mt="xs"
				/>
				<TextInput
					label="And the condition"
					placeholder="severity >= notice"
					value={more}
					onChange={(event) => setMore(event.currentTarget.value)}
					error={save.error?.message}
					mt="xs"
				/>
				<Button type="submit" mt="md" disabled={!find || !name.trim()} loading={save.isPending}>
					Save and use
				</Button>
			</form>
		</Modal>
	);
}

/** The scope that is on: a saved set of machines, services and conditions. */
export function ScopeMenu({ question, change, status }: Props) {
	const { data } = useScopes();
	const remove = useDeleteScope();
	const [making, setMaking] = useState(false);
	const barred = useBarred("PUT /api/scopes");
	return (
		<>
			<Menu position="bottom-start" width={260}>
				<Menu.Target>
					<button type="button" className={sentence.choice} data-scope>
						{question.scope || "everything"} ▾
					</button>
				</Menu.Target>
				<Menu.Dropdown>
					<Menu.Item onClick={() => change({ scope: "" })}>everything</Menu.Item>
					{data?.scopes.map((scope) => (
						<Menu.Item
							key={scope.id}
							title={scope.find}
							onClick={() => change({ scope: scope.name })}
							rightSection={
								!barred.disabled && (
									<ActionIcon
										component="span"
										size="sm"
										variant="subtle"
										aria-label={`delete ${scope.name}`}
										onClick={(event) => {
											event.stopPropagation();
											remove.mutate(scope.id, {
												onSuccess: () => scope.name === question.scope && change({ scope: "" }),
											});
										}}
									>
										<IconTrash size={14} />
									</ActionIcon>
								)
							}
						>
							{scope.name}
						</Menu.Item>
					))}
					<Menu.Divider />
					<Menu.Item {...barred} onClick={() => setMaking(true)}>
						new scope…
					</Menu.Item>
				</Menu.Dropdown>
			</Menu>
			{making && (
				<NewScope
					question={question}
					status={status}
					onClose={() => setMaking(false)}
					onSaved={(scope) => {
						setMaking(false);
						change({ scope });
					}}
				/>
			)}
		</>
	);
}
