import { Button, CopyButton } from "@mantine/core";
import type { ReactNode } from "react";
import classes from "./People.module.css";

/** A secret that is told once: the database has a digest of it alone. */
export function Told({ value, children, onClose }: { value: string; children: ReactNode; onClose: () => void }) {
	return (
		<div className={classes.link} role="status">
			<p>{children}</p>
			<code data-told>{value}</code>
			<CopyButton value={value}>
				{({ copied, copy }) => (
					<Button size="compact-sm" onClick={copy}>
						{copied ? "Copied" : "Copy"}
					</Button>
				)}
			</CopyButton>
			<Button size="compact-sm" variant="subtle" onClick={onClose}>
				Done
			</Button>
		</div>
	);
}
