import { Checkbox, Popover, TextInput } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../api/client";
import classes from "./Investigate.module.css";

const MOST = 12;

/** Chooses which fields stand as columns in the list. */
export function ColumnMenu({ columns, onColumns }: { columns: string[]; onColumns: (columns: string[]) => void }) {
	const [prefix, setPrefix] = useState("");
	const fields = useQuery({
		queryKey: ["fields", prefix],
		queryFn: ({ signal }) => answer(api.GET("/api/completions", { params: { query: { prefix } }, signal })),
	});
	const names = (fields.data?.completions ?? [])
		.filter(
			(one) => one.kind === "field" && !["message", "text", "severity", "host.name", "service.name"].includes(one.text),
		)
		.map((one) => one.text);
	const offered = [...columns, ...names.filter((name) => !columns.includes(name))].slice(0, columns.length + MOST);
	return (
		<Popover position="bottom-end" width={260} trapFocus>
			<Popover.Target>
				<button type="button" className={classes.tool}>
					columns ▾
				</button>
			</Popover.Target>
			<Popover.Dropdown p="xs" aria-label="Columns">
				<TextInput
					placeholder="name of a field"
					aria-label="name of a field"
					value={prefix}
					onChange={(event) => setPrefix(event.currentTarget.value)}
					mb="xs"
					data-autofocus
				/>
				{offered.map((name) => (
					<Checkbox
						key={name}
						label={name}
						checked={columns.includes(name)}
						my={6}
						onChange={() =>
							onColumns(columns.includes(name) ? columns.filter((other) => other !== name) : [...columns, name])
						}
					/>
				))}
			</Popover.Dropdown>
		</Popover>
	);
}
