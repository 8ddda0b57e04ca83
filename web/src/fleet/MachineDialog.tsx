import { Autocomplete, type AutocompleteProps, Button, Modal, TagsInput, type TagsInputProps } from "@mantine/core";
import { useState } from "react";
import { useCompletions } from "../shared/completions";
import { type Machine, useFleetChanges } from "./api";
import classes from "./Fleet.module.css";
import { RenameMachine } from "./RenameMachine";

/** Values that a field has on other machines, as a person types. */
function OneOf({ field, except, ...rest }: { field: string; except?: string } & AutocompleteProps) {
	const found = useCompletions(field, rest.value ?? "");
	return <Autocomplete {...rest} data={found.filter((one) => one !== except)} />;
}

function SomeOf({ field, except, ...rest }: { field: string; except?: string } & TagsInputProps) {
	const [typed, setTyped] = useState("");
	const found = useCompletions(field, typed);
	return (
		<TagsInput {...rest} data={found.filter((one) => one !== except)} searchValue={typed} onSearchChange={setTyped} />
	);
}

/** What people say of a machine: its lines carry it as fields, those that came before too. */
export function MachineDialog({ machine, onClose }: { machine: Machine; onClose: () => void }) {
	const { say } = useFleetChanges();
	const [site, setSite] = useState(machine.site ?? "");
	const [role, setRole] = useState(machine.role ?? "");
	const [tags, setTags] = useState(machine.tags);
	const [needs, setNeeds] = useState(machine.needs);
	const [host, setHost] = useState(machine.runs_on ?? "");
	const keep = () =>
		say.mutate(
			{ machine: machine.machine, site: site.trim(), role: role.trim(), tags, needs, runs_on: host.trim() },
			{ onSuccess: onClose },
		);
	return (
		<Modal opened onClose={onClose} title={`What ${machine.machine} is`}>
			{machine.derived && (
				<div className={classes.derived}>
					Its lines name no machine; this one is named after where they came from.{" "}
					<RenameMachine machine={machine.machine} onDone={onClose} />
				</div>
			)}
			<form
				className={classes.form}
				onSubmit={(event) => {
					event.preventDefault();
					keep();
				}}
			>
				<OneOf label="Site" field="host.site" value={site} onChange={setSite} data-autofocus />
				<OneOf label="Role" field="host.role" value={role} onChange={setRole} />
				<SomeOf label="Tags" field="host.tags" value={tags} onChange={setTags} />
				<SomeOf
					label="Needs"
					description="machines whose services it uses"
					field="host.name"
					except={machine.machine}
					value={needs}
					onChange={setNeeds}
				/>
				<OneOf
					label="Runs on"
					description="the host below it"
					field="host.name"
					except={machine.machine}
					value={host}
					onChange={setHost}
				/>
				{say.error && (
					<p className={classes.problem} role="alert">
						{say.error.message}
					</p>
				)}
				<Button type="submit" loading={say.isPending}>
					Keep
				</Button>
			</form>
		</Modal>
	);
}
