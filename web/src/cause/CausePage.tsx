import { Link, useSearchParams } from "react-router";
import { LogbookTabs } from "../logbook/LogbookTabs";
import { ChangesBefore } from "./ChangesBefore";
import classes from "./ChangesBefore.module.css";
import { MomentForm } from "./MomentForm";

/** What changed before a line, a pattern, a happening, or a moment that a person names. */
export function CausePage() {
	const [params, setParams] = useSearchParams();
	const ofLine = params.has("line") || params.has("pattern");
	// An address may be typed by hand: what is no moment is told by the server, and not shown as one.
	const at = params.get("at");
	const atUs = at !== null && /^-?\d{1,16}$/.test(at) ? Number(at) : null;
	return (
		<main className={classes.screen}>
			<header className={classes.head}>
				<LogbookTabs />
				{ofLine && <Link to="/causes">ask about another moment</Link>}
			</header>
			{!ofLine && (
				<MomentForm
					key={params.toString()}
					atUs={atUs}
					machine={params.get("machine") ?? ""}
					onAsk={(atUs, machine) => setParams({ at: String(atUs), ...(machine ? { machine } : {}) })}
				/>
			)}
			{ofLine || at !== null ? (
				<ChangesBefore asked={params} />
			) : (
				<p className={classes.none}>
					Say when trouble was noticed: the time of an alert, of a call, of a photograph of the screen. When it began,
					and what changed before that, is looked for from there. From a line, press <kbd>c</kbd>.
				</p>
			)}
		</main>
	);
}
