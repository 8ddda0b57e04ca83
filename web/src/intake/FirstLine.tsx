import { Button, CopyButton, Loader, Modal } from "@mantine/core";
import { Link } from "react-router";
import { SeverityTicks } from "../shared/severity";
import { clockExact } from "../shared/time";
import { useZone } from "../shared/zone";
import type { Feed } from "./api";
import classes from "./Intake.module.css";
import { recipes } from "./kinds";

/** What to do on the sending machine; says when the first line has come. */
export function FirstLine({ feed, token, onClose }: { feed: Feed; token: string | undefined; onClose: () => void }) {
	const { zone } = useZone();
	const source = feed.sources.find((one) => one.last);
	const last = source?.last;
	return (
		<Modal opened onClose={onClose} title={`How lines come to ${feed.name}`} size="xl">
			{recipes(feed, window.location.hostname, token ?? "TOKEN").map(([title, text]) => (
				<section key={title} className={classes.recipe}>
					<h3>{title}</h3>
					<pre>{text}</pre>
					<CopyButton value={text}>
						{({ copied, copy }) => (
							<Button size="compact-sm" variant="default" onClick={copy}>
								{copied ? "Copied" : "Copy"}
							</Button>
						)}
					</CopyButton>
				</section>
			))}
			{token && <p className={classes.said}>The token is shown now and not again. Whoever has it can send lines.</p>}
			{feed.problem && <p className={classes.problem}>{feed.problem}</p>}
			{last && source ? (
				<div className={classes.arrived} role="status">
					<h3>Lines are coming</h3>
					<p className={classes.line}>
						<SeverityTicks code={last.severity} /> <time>{clockExact(last.time_us, zone)}</time> {last.machine}{" "}
						{last.message}
					</p>
					<Link to={`/?chip=${encodeURIComponent(`source = "${source.name}"`)}`}>See them in Investigate</Link>
				</div>
			) : (
				<p className={classes.waiting} role="status">
					<Loader size="xs" /> Waiting for the first line
				</p>
			)}
		</Modal>
	);
}
