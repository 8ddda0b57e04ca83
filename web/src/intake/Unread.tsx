import { Select } from "@mantine/core";
import { Link, useSearchParams } from "react-router";
import type { Patterns } from "../api/types";
import { noiseFrom, parserFrom } from "../rules/api";
import { IntakeHead } from "../shared/IntakeHead";
import { Steps, Words, worst } from "../shared/PatternText";
import { equals, quote } from "../shared/question";
import { SeverityTicks } from "../shared/severity";
import { clock, day, number } from "../shared/time";
import { useZone } from "../shared/zone";
import { SurveyHead } from "../surveys/SurveyHead";
import { useSurvey } from "../surveys/useSurvey";
import { useFeeds } from "./api";
import classes from "./Intake.module.css";

/** Lines that no reader and no parser understood. */
const UNREAD = "reader = plain not has parser";

/** What stands unread, grouped by pattern: each can be given a parser. */
export function Unread() {
	const { zone } = useZone();
	const [params, setParams] = useSearchParams();
	const source = params.get("source");
	const feeds = useFeeds();
	const names = [...new Set(feeds.data?.feeds.flatMap((feed) => feed.sources.map((one) => one.name)) ?? [])];
	const scope = source ? `source = ${quote(source)} ` : "";
	const table = useSurvey<Patterns>("/api/patterns", new URLSearchParams({ find: `${scope}${UNREAD}` }));
	const rows = [...(table.answer?.patterns ?? [])].sort((one, other) => other.count - one.count);
	return (
		<main className={classes.screen} aria-busy={table.old}>
			<IntakeHead
				action={
					<Select
						aria-label="Source of the unread lines"
						data={source && !names.includes(source) ? [source, ...names] : names}
						value={source}
						onChange={(next) => setParams(next ? { source: next } : {})}
						placeholder="all sources"
						clearable
						searchable
						w={260}
					/>
				}
			/>
			<SurveyHead survey={table}>
				<b>{number(table.answer?.found ?? 0)}</b> {table.answer?.found === 1 ? "pattern" : "patterns"} of lines that no
				reader understands
			</SurveyHead>
			{table.answer && rows.length === 0 && !table.running && (
				<p className={classes.said}>
					Every line {source ? "of this source " : ""}was read. There is nothing to do here.
				</p>
			)}
			<ul className={classes.unread}>
				{rows.map((row) => {
					const only = equals("pattern", row.name);
					return (
						<li key={row.name} data-pattern={row.name}>
							<SeverityTicks code={worst(row)} />
							<span className={classes.number}>{number(row.count)}</span>
							<Steps pattern={row} />
							<span className={classes.line} title={row.text}>
								<Words text={row.text} />
							</span>
							<span className={classes.said}>
								{row.last_us !== null && `${day(row.last_us, zone)} ${clock(row.last_us, zone)}`}
							</span>
							<span className={classes.actions}>
								<Link to={parserFrom({ of: only, find: `${scope}reader = plain` })}>make a parser</Link>
								<Link to={noiseFrom(only)}>noise rule</Link>
								<Link to={`/?chip=${encodeURIComponent(only)}`}>lines</Link>
							</span>
						</li>
					);
				})}
			</ul>
		</main>
	);
}
