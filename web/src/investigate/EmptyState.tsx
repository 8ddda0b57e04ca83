import { Button } from "@mantine/core";
import type { Change, Question } from "../shared/question";
import { useUploads } from "../uploads/useUploads";
import classes from "./EmptyState.module.css";

/** Before the first line is in: says what to do. */
export function EmptyState() {
	const { pick } = useUploads();
	return (
		<main className={classes.empty}>
			<div className={classes.drop}>
				<h1>Drop log files here</h1>
				<p>
					Files, folders, and archives (gzip, zip, tar), from as many machines as you have. Northdrift finds out how
					each is written: syslog, JSON, key=value, web access logs, Windows events, or any text with times in it.
				</p>
				<Button onClick={() => pick("files")}>Choose files</Button>{" "}
				<Button variant="default" onClick={() => pick("folder")}>
					Choose a folder
				</Button>
				<p className={classes.small}>
					Or from a shell: <code>bin/northdrift import /var/log</code>
				</p>
			</div>
		</main>
	);
}

/** No line answers the question: says what narrows it, and offers to widen. */
export function NothingFound({ question, change }: { question: Question; change: Change }) {
	return (
		<div className={classes.nothing}>
			<h2>No line matches</h2>
			<p>All lines of the window were looked at.</p>
			<div className={classes.ways}>
				{(question.fromUs !== null || question.toUs !== null) && (
					<Button variant="default" onClick={() => change({ fromUs: null, toUs: null })}>
						Look in the whole time
					</Button>
				)}
				{question.chips.length > 0 && (
					<Button variant="default" onClick={() => change({ chips: [] })}>
						Take out what was clicked
					</Button>
				)}
				{question.hidden.length > 0 && (
					<Button variant="default" onClick={() => change({ hidden: [] })}>
						Show all severities
					</Button>
				)}
				{question.find && (
					<Button variant="default" onClick={() => change({ find: "" })}>
						Clear the find text
					</Button>
				)}
			</div>
		</div>
	);
}
