import { Button, Menu } from "@mantine/core";
import type { ReactNode } from "react";

/** What else can be done with a row: the items of a menu. */
export function More({ of, children }: { of: string; children: ReactNode }) {
	return (
		<Menu position="bottom-end">
			<Menu.Target>
				<Button size="compact-xs" miw={24} variant="subtle" aria-label={`more for ${of}`}>
					…
				</Button>
			</Menu.Target>
			<Menu.Dropdown>{children}</Menu.Dropdown>
		</Menu>
	);
}
