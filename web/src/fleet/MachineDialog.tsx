import { Autocomplete, Button, Modal, TagsInput } from "@mantine/core";
import { useState } from "react";
import { type Machine, useFleetChanges } from "./api";
import classes from "./Fleet.module.css";
import { RenameMachine } from "./RenameMachine";

const distinct = (values: (string | null)[]) => [...new Set(values.filter((value) => value !== null))].sort();

/** What people say of a machine: its lines carry it as fields, those that came before too. */
export function MachineDialog({ machine, all, onClose }: { machine: Machine; all: Machine[]; onClose: () => void }) {
	const { say } = useFleetChanges();
	const [site, setSite] = useState(machine.site ?? "");
	const [role, setRole] = useState(machine.role ?? "");
	const [tags, setTags] = useState(machine.tags);
	const [needs, setNeeds] = useState(machine.needs);
	const [host, setHost] = useState(machine.runs_on ?? "");
	const others = all.map((one) => one.machine).filter((name) => name !== machine.machine);
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
				<Autocomplete
					label="Site"
					data={distinct(all.map((one) => one.site))}
					value={site}
					onChange={setSite}
					data-autofocus
				/>
				<Autocomplete label="Role" data={distinct(all.map((one) => one.role))} value={role} onChange={setRole} />
				<TagsInput label="Tags" data={distinct(all.flatMap((one) => one.tags))} value={tags} onChange={setTags} />
				<TagsInput
					label="Needs"
					description="machines whose services it uses"
					data={others}
					value={needs}
					onChange={setNeeds}
				/>
				<Autocomplete label="Runs on" description="the host below it" data={others} value={host} onChange={setHost} />
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
