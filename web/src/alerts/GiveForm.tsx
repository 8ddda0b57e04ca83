import { Button, Modal, Select } from "@mantine/core";
import { useState } from "react";
import classes from "./Alerts.module.css";

interface Props {
	people: string[];
	onGive: (name: string) => void;
	onClose: () => void;
}

/** Who is to take it. */
export function GiveForm({ people, onGive, onClose }: Props) {
	const [name, setName] = useState<string | null>(null);
	return (
		<Modal opened onClose={onClose} title="Give it to somebody">
			<form
				className={classes.form}
				onSubmit={(event) => {
					event.preventDefault();
					if (name) onGive(name);
				}}
			>
				<Select label="To" data={people} value={name} onChange={setName} searchable data-autofocus />
				<Button type="submit" disabled={!name}>
					Give
				</Button>
			</form>
		</Modal>
	);
}
