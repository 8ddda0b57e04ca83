import { Autocomplete } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../api/client";
import classes from "./Boards.module.css";

interface Props {
	name: string;
	field: string;
	value: string;
	onChoose: (value: string) => void;
}

/** A value of a field that all cards are narrowed to; nothing chosen is all. */
export function VariablePicker({ name, field, value, onChoose }: Props) {
	const [typed, setTyped] = useState<string | null>(null);
	const prefix = typed ?? "";
	const { data } = useQuery({
		queryKey: ["completions", field, prefix],
		queryFn: ({ signal }) => answer(api.GET("/api/completions", { params: { query: { field, prefix } }, signal })),
		enabled: typed !== null,
	});
	const done = (next: string) => {
		setTyped(null);
		if (next !== value) onChoose(next);
	};
	return (
		<>
			<span className={classes.word}>{name}</span>
			<Autocomplete
				aria-label={`${name}, of ${field}`}
				placeholder="all"
				w={150}
				data={[...new Set(data?.completions.map(({ text }) => text) ?? [])]}
				filter={({ options }) => options}
				value={typed ?? value}
				onFocus={() => setTyped(value)}
				onChange={setTyped}
				onOptionSubmit={done}
				onBlur={() => typed !== null && done(typed.trim())}
				onKeyDown={(event) => {
					if (event.key === "Enter" && typed !== null) done(typed.trim());
					if (event.key === "Escape") setTyped(null);
				}}
				clearable
			/>
		</>
	);
}
