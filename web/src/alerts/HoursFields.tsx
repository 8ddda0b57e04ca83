import { Chip, TextInput } from "@mantine/core";
import classes from "./Alerts.module.css";
import { DAYS, type HoursDraft } from "./hours";

interface Props {
	draft: HoursDraft;
	set: (part: Partial<HoursDraft>) => void;
	error: string | undefined;
}

/** Days of the week, and from when to when on them. */
export function HoursFields({ draft, set, error }: Props) {
	return (
		<div className={classes.row}>
			<span>on</span>
			<Chip.Group multiple value={draft.days} onChange={(days) => set({ days })}>
				{DAYS.map((day) => (
					<Chip key={day} value={day} size="xs">
						{day}
					</Chip>
				))}
			</Chip.Group>
			<span>from</span>
			<TextInput
				aria-label="from"
				w={80}
				placeholder="00:00"
				value={draft.from}
				error={error}
				onChange={(event) => set({ from: event.currentTarget.value })}
			/>
			<span>to</span>
			<TextInput
				aria-label="to"
				w={80}
				placeholder="24:00"
				value={draft.to}
				onChange={(event) => set({ to: event.currentTarget.value })}
			/>
		</div>
	);
}
