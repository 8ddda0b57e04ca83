import { Button, TextInput } from "@mantine/core";
import { useState } from "react";
import { Allowed } from "../shared/session";
import { useFleetChanges } from "./api";
import classes from "./Fleet.module.css";

/** Gives a machine that was named after where its lines came from the name that people know it by. */
export function RenameMachine({ machine, onDone }: { machine: string; onDone?: () => void }) {
	const { call } = useFleetChanges();
	const [open, setOpen] = useState(false);
	const [called, setCalled] = useState(machine);
	const [name, setName] = useState(machine);
	const close = () => {
		setOpen(false);
		setName(called);
		call.reset();
	};
	const keep = () =>
		call.mutate(
			{ machine: called, name: name.trim() },
			{
				onSuccess: (answer) => {
					setCalled(answer.machine);
					setOpen(false);
					onDone?.();
				},
			},
		);
	if (!open)
		return (
			<>
				{called !== machine && `It is called ${called} now. `}
				<Allowed to="PATCH /api/fleet/machines/{name}">
					<button type="button" className={classes.rename} onClick={() => setOpen(true)}>
						Rename
					</button>
				</Allowed>
			</>
		);
	return (
		<form
			className={classes.naming}
			onSubmit={(event) => {
				event.preventDefault();
				keep();
			}}
		>
			<TextInput
				size="xs"
				aria-label={`name of ${called}`}
				description="also that of a machine that is there already"
				value={name}
				onChange={(event) => setName(event.currentTarget.value)}
				onKeyDown={(event) => {
					if (event.key !== "Escape") return;
					event.stopPropagation();
					close();
				}}
				error={call.error?.message}
				inputWrapperOrder={["input", "description", "error"]}
				data-autofocus
				autoFocus
			/>
			<Button type="submit" size="xs" loading={call.isPending} disabled={!name.trim()}>
				Keep
			</Button>
			<Button size="xs" variant="subtle" onClick={close}>
				Cancel
			</Button>
		</form>
	);
}
