import { useSearchParams } from "react-router";
import { ChangesBefore } from "./ChangesBefore";
import classes from "./ChangesBefore.module.css";

/** What changed before a line, a happening, or a moment of a machine. */
export function CausePage() {
	const [params] = useSearchParams();
	return (
		<main className={classes.screen}>
			<h1>What changed before</h1>
			<ChangesBefore asked={params} />
		</main>
	);
}
