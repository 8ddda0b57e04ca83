import { Link, useLocation } from "react-router";
import classes from "./Logbook.module.css";

const PARTS = [
	{ path: "/logbook", name: "Story" },
	{ path: "/logbook/restarts", name: "Restarts" },
	{ path: "/causes", name: "What changed before" },
	{ path: "/logbook/rules", name: "Rules" },
];

/** The parts of the logbook. */
export function LogbookTabs() {
	const { pathname } = useLocation();
	return (
		<>
			<h1>Logbook</h1>
			<nav aria-label="Parts of the logbook" className={classes.parts}>
				{PARTS.map(({ path, name }) => (
					<Link
						key={path}
						to={path}
						aria-current={(path === "/logbook" ? pathname === path : pathname.startsWith(path)) ? "page" : undefined}
					>
						{name}
					</Link>
				))}
			</nav>
		</>
	);
}
