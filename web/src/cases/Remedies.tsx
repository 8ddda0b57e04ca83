import { Button } from "@mantine/core";
import { Link } from "react-router";
import type { Remedy } from "../api/types";
import { dayAndYear } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Cases.module.css";

interface Props {
	remedies: Remedy[];
	/** Takes one over. */
	onUse?: ((remedy: string) => void) | undefined;
}

/** Closed cases that a line of the same pattern is pinned to, and what helped. */
export function Remedies({ remedies, onUse }: Props) {
	const { zone } = useZone();
	if (remedies.length === 0) return null;
	return (
		<div className={classes.remedies} data-remedies>
			{remedies.map((one) => (
				<p key={one.id}>
					<b>Seen before</b>
					{one.closed_us !== null && `, closed ${dayAndYear(one.closed_us, zone)}`}:{" "}
					<Link to={`/cases/${one.id}`}>{one.title}</Link>. What helped: “{one.remedy}”{" "}
					{onUse && (
						<Button size="compact-xs" variant="subtle" onClick={() => onUse(one.remedy)}>
							Use this remedy
						</Button>
					)}
				</p>
			))}
		</div>
	);
}

/** A small mark that leads to the latest of them, where there is no room for the words. */
export function RemedyMark({ remedies }: { remedies: Remedy[] }) {
	const [latest] = remedies;
	if (!latest) return null;
	return (
		<Link
			className={classes.mark}
			to={`/cases/${latest.id}`}
			title={remedies.map((one) => `${one.title}; what helped: “${one.remedy}”`).join("\n")}
		>
			seen before
		</Link>
	);
}
