import { Button, FileButton, Menu } from "@mantine/core";
import { type ReactNode, useState } from "react";
import { type Part, Parts } from "../shared/Parts";
import { useBarred } from "../shared/session";
import { number } from "../shared/time";
import { FLEET, useFleetChanges } from "./api";
import classes from "./Fleet.module.css";

const PARTS: Part[] = [
	{ path: "/fleet", name: "Machines", route: "GET /api/fleet" },
	{ path: "/fleet/map", name: "Map", route: "GET /api/fleet/map" },
	{ path: "/fleet/availability", name: "Availability", route: "GET /api/fleet/availability" },
];

/** The head of all parts of the fleet, with the table in and out. */
export function FleetTabs({ children }: { children?: ReactNode }) {
	const { table } = useFleetChanges();
	const barred = useBarred("POST /api/fleet/table");
	const [taken, setTaken] = useState<string | null>(null);
	return (
		<header className={classes.head}>
			<Parts of="Fleet" parts={PARTS} />
			{children}
			<p className={classes.told} role="status">
				{table.error ? <span className={classes.problem}>{table.error.message}</span> : taken}
			</p>
			<Menu position="bottom-end">
				<Menu.Target>
					<Button variant="default">Table ▾</Button>
				</Menu.Target>
				<Menu.Dropdown>
					<FileButton
						onChange={(file) =>
							file &&
							table.mutate(file, {
								onSuccess: ({ machines }) => setTaken(`${number(machines)} machines taken in`),
							})
						}
						accept=".csv,.json,text/csv,application/json"
					>
						{(props) => (
							<Menu.Item {...props} {...barred}>
								take a table in (CSV or JSON)
							</Menu.Item>
						)}
					</FileButton>
					<Menu.Item component="a" href={`${FLEET}/table.csv`} download>
						save as CSV
					</Menu.Item>
					<Menu.Item component="a" href={`${FLEET}/table.json`} download>
						save as JSON
					</Menu.Item>
				</Menu.Dropdown>
			</Menu>
		</header>
	);
}
