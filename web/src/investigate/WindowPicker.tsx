import { Button, Popover, TextInput } from "@mantine/core";
import { DateTimePicker } from "@mantine/dates";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../api/client";
import { fromWall, wall, windowName } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Sentence.module.css";

const PRESETS = [
	"last 15 minutes",
	"last hour",
	"last 6 hours",
	"last 24 hours",
	"today",
	"yesterday",
	"last 7 days",
	"everything",
];

interface Props {
	fromUs: number | null;
	toUs: number | null;
	onChoose: (fromUs: number | null, toUs: number | null) => void;
}

export function WindowPicker({ fromUs, toUs, onChoose }: Props) {
	const { zone } = useZone();
	const [open, setOpen] = useState(false);
	const [words, setWords] = useState("");
	const resolve = useMutation({
		mutationFn: (text: string) => answer(api.GET("/api/windows", { params: { query: { words: text, zone } } })),
		onSuccess: (found) => {
			setOpen(false);
			onChoose(found.from_us, found.to_us);
		},
	});
	const name = windowName(fromUs, toUs, zone);

	return (
		<Popover opened={open} onChange={setOpen} position="bottom-end" width={400} trapFocus returnFocus>
			<Popover.Target>
				<button
					type="button"
					className={classes.choice}
					data-window
					onClick={() => setOpen((now) => !now)}
					aria-haspopup="dialog"
					aria-expanded={open}
				>
					{name} <span aria-hidden>▾</span>
				</button>
			</Popover.Target>
			<Popover.Dropdown>
				<form
					onSubmit={(event) => {
						event.preventDefault();
						resolve.mutate(words);
					}}
				>
					<TextInput
						label="In words"
						placeholder="yesterday noon, 14 Nov 06:12 ± 5 min, since boot of …"
						value={words}
						onChange={(event) => setWords(event.currentTarget.value)}
						error={resolve.error?.message}
						data-autofocus
					/>
				</form>
				<div className={classes.presets}>
					{PRESETS.map((preset) => (
						<Button key={preset} variant="default" size="compact-sm" onClick={() => resolve.mutate(preset)}>
							{preset}
						</Button>
					))}
				</div>
				<div className={classes.fromTo}>
					<DateTimePicker
						label="From"
						withSeconds
						valueFormat="D MMM YYYY HH:mm:ss"
						value={fromUs === null ? null : wall(fromUs, zone)}
						onChange={(value) => onChoose(value ? fromWall(value, zone) : null, toUs)}
						popoverProps={{ withinPortal: false }}
						clearable
						clearButtonProps={{ "aria-label": "clear" }}
					/>
					<DateTimePicker
						label="To"
						withSeconds
						valueFormat="D MMM YYYY HH:mm:ss"
						value={toUs === null ? null : wall(toUs, zone)}
						onChange={(value) => onChoose(fromUs, value ? fromWall(value, zone) : null)}
						popoverProps={{ withinPortal: false }}
						clearable
						clearButtonProps={{ "aria-label": "clear" }}
					/>
				</div>
			</Popover.Dropdown>
		</Popover>
	);
}
