import { Link, useLocation } from "react-router";
import classes from "./screen.module.css";
import { type Route, useSession, whyNot } from "./session";

export interface Part {
	path: string;
	name: string;
	/** What it asks first; who may not ask that does not get in. */
	route: Route;
}

interface PartsProps {
	/** The name of the screen. */
	of: string;
	parts: Part[];
}

/** The name of a screen, and links to its parts. */
export function Parts({ of, parts }: PartsProps) {
	const { pathname } = useLocation();
	const session = useSession();
	const here = parts
		.filter(({ path }) => pathname.startsWith(path))
		.sort((one, other) => other.path.length - one.path.length)[0];
	return (
		<>
			<h1>{of}</h1>
			<nav aria-label={`Parts of ${of}`} className={classes.parts}>
				{parts.map(({ path, name, route }) => {
					const why = whyNot(session, route);
					if (why !== null) {
						return (
							<span key={path} className={classes.barred} title={why} aria-disabled>
								{name}
							</span>
						);
					}
					return (
						<Link key={path} to={path} aria-current={here?.path === path ? "page" : undefined}>
							{name}
						</Link>
					);
				})}
			</nav>
		</>
	);
}
