import { Button } from "@mantine/core";
import { Allowed } from "../shared/session";
import type { Pinned } from "./api";
import { useCurrentCase } from "./current";

/** Pins something to the case that a person works on. */
export function PinButton({ what, title, compact }: { what: Pinned; title: string; compact?: boolean }) {
	const { current, pin } = useCurrentCase();
	const label = current ? `Pin to case ${current.id}` : "Pin to a case";
	return compact ? (
		<Allowed to="POST /api/cases/{id}/pins">
			<Button variant="subtle" size="compact-xs" onClick={() => pin(what, title)} title={label}>
				pin
			</Button>
		</Allowed>
	) : (
		<Allowed to="POST /api/cases/{id}/pins">
			<Button size="compact-md" onClick={() => pin(what, title)} title={`${label} (p)`}>
				{label}
			</Button>
		</Allowed>
	);
}
