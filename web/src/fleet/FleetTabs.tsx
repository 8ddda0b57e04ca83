import { Button, FileButton, Menu } from "@mantine/core";
import { type ReactNode, useState } from "react";
import { Link, useLocation } from "react-router";
import { useBarred } from "../people/session";
import { number } from "../shared/time";
import { FLEET, useFleetChanges } from "./api";
import classes from "./Fleet.module.css";

const PARTS = [
	{ path: "/fleet", name: "Machines" },
	{ path: "/fleet/map", name: "Map" },
	{ path: "/fleet/availability", name: "Availability" },
];

/** The head of all parts of the fleet, with the table in and out. */
export function FleetTabs({ children }: { children?: ReactNode }) {
	const { pathname } = useLocation();
	const { table } = useFleetChanges();
	const barred = useBarred("POST /api/fleet/table");
	const [taken, setTaken] = useState<string | null>(null);
	return (
		<header className={classes.head}>
			<h1>Fleet</h1>
			<nav aria-label="Parts of the fleet" className={classes.parts}>
				{PARTS.map(({ path, name }) => (
					<Link key={path} to={path} aria-current={pathname === path ? "page" : undefined}>
						{name}
					</Link>
				))}
			</nav>
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
