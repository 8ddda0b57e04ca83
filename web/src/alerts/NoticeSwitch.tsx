import { Switch } from "@mantine/core";
import { useNotices } from "./notices";

/** Has this browser tell of new alerts. */
export function NoticeSwitch() {
	const { on, turn, why } = useNotices();
	return (
		<Switch
			size="xs"
			label="tell me in this browser"
			title={why ?? undefined}
			error={why && !on ? why : undefined}
			disabled={why !== null && !on}
			checked={on}
			onChange={(event) => void turn(event.currentTarget.checked)}
		/>
	);
}
