import { Autocomplete, Button, TextInput } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../api/client";
import { useCompletions } from "../shared/completions";
import { clock, dayAndYear } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./ChangesBefore.module.css";

interface Props {
	atUs: number | null;
	machine: string;
	onAsk: (atUs: number, machine: string) => void;
}

/** Names a moment in words, and the machine in trouble where it is known. */
export function MomentForm({ atUs, machine: asked, onAsk }: Props) {
	const { zone } = useZone();
	const [words, setWords] = useState(atUs === null ? "" : `${dayAndYear(atUs, zone)} ${clock(atUs, zone)}`);
	const [machine, setMachine] = useState(asked);
	const machines = useCompletions("host.name", machine);
	const moment = useMutation({
		mutationFn: (text: string) => answer(api.GET("/api/windows/moment", { params: { query: { words: text, zone } } })),
		onSuccess: ({ at_us }) => onAsk(at_us, machine.trim()),
	});
	return (
		<form
			className={classes.moment}
			onSubmit={(event) => {
				event.preventDefault();
				moment.mutate(words);
			}}
		>
			<TextInput
				label="Noticed"
				placeholder="22 Nov 06:12, yesterday noon, 20 minutes ago"
				value={words}
				onChange={(event) => setWords(event.currentTarget.value)}
				error={moment.error?.message}
				required
				withAsterisk={false}
			/>
			<Autocomplete
				label="On machine"
				placeholder="any"
				data={machines}
				limit={12}
				value={machine}
				onChange={setMachine}
			/>
			<Button type="submit" loading={moment.isPending}>
				What changed before?
			</Button>
		</form>
	);
}
