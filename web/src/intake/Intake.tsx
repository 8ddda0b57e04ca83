import { Button, Menu } from "@mantine/core";
import { useState } from "react";
import { Link } from "react-router";
import { authors } from "../shared/authors";
import { Gone, IntakeHead } from "../shared/IntakeHead";
import { More } from "../shared/More";
import { exactly } from "../shared/question";
import { Allowed, useBarred } from "../shared/session";
import { SeverityTicks } from "../shared/severity";
import { bytes, duration, number } from "../shared/time";
import { type Feed, type FeedSource, useAlter, useFeeds, useRemove, useRestore, type Volume } from "./api";
import { FeedDialog } from "./FeedDialog";
import { FirstLine } from "./FirstLine";
import classes from "./Intake.module.css";
import { KINDS, place } from "./kinds";
import { Sparkline } from "./Sparkline";

const MINUTE_US = 60_000_000;

function ago(volume: Volume, nowUs: number): string {
	if (volume.last_minute === null) return "nothing in 24 h";
	const minutes = Math.floor(nowUs / MINUTE_US) - volume.last_minute;
	return minutes < 1 ? "this minute" : `${duration(minutes * MINUTE_US)} ago`;
}

function state(feed: Feed): "paused" | "problem" | "waiting" | "running" {
	if (feed.paused) return "paused";
	if (feed.problem) return "problem";
	return feed.volume?.last_minute == null ? "waiting" : "running";
}

/** Said in a word beside the sign: no state is told by colour alone. */
const STATES = { paused: "‖ paused", problem: "✕ stopped", waiting: "○ waiting", running: "● running" };

function share(part: number, whole: number): string {
	if (!whole || !part) return "";
	const percent = (100 * part) / whole;
	return percent < 1 ? "< 1 %" : `${Math.round(percent)} %`;
}

function Figures(props: { volume: Volume; all: number; lost?: number; unread?: string }) {
	const { volume, all, lost, unread } = props;
	const perMinute = volume.lines.at(-2) ?? 0;
	return (
		<>
			<td>
				<Sparkline counts={volume.lines} label={`${number(perMinute)} lines in the last whole minute`} />
			</td>
			<td className={classes.number}>{number(perMinute)}</td>
			<td className={classes.number} data-day-of={lost === undefined ? "source" : "feed"}>
				{number(volume.day_lines)}
			</td>
			<td className={classes.number}>{share(volume.day_lines, all)}</td>
			<td className={classes.number}>{bytes(volume.day_bytes)}</td>
			<td className={classes.number} data-bad={volume.unread > 0 || undefined}>
				{volume.unread > 0 && unread ? <Link to={unread}>{number(volume.unread)}</Link> : number(volume.unread)}
			</td>
			<td className={classes.number} data-bad={(lost ?? 0) > 0 || undefined}>
				{lost === undefined ? "" : number(lost)}
			</td>
			<td className={classes.number}>{volume.lag_ms === null ? "" : lag(volume.lag_ms)}</td>
		</>
	);
}

function lag(ms: number): string {
	if (Math.abs(ms) < 1000) return "< 1 s";
	return ms < 0 ? `${duration(-ms * 1000)} ahead` : duration(ms * 1000);
}

/** Says that what comes is out of the usual. */
function Unusual({ volume }: { volume: Volume | null }) {
	const usual = volume?.usual;
	if (!usual) return null;
	return (
		<span className={classes.unusual} data-level={usual.level}>
			{usual.direction === "more" ? "▲" : "▼"} {usual.level}: {number(usual.lines)} lines in 5 min, usually{" "}
			{usual.low === usual.high ? number(usual.low) : `${number(usual.low)} to ${number(usual.high)}`}
		</span>
	);
}

function SourceRow({ source, all, nowUs }: { source: FeedSource; all: number; nowUs: number }) {
	const readers = Object.entries(source.readers)
		.sort(([, one], [, other]) => other - one)
		.map(([reader]) => reader);
	return (
		<tr className={classes.source} data-source={source.name}>
			<td>
				<Link to={`/?${new URLSearchParams({ chip: exactly("source", source.name) })}`} title={source.name}>
					{source.name.split("/").slice(-2).join("/")}
				</Link>
				<span className={classes.said}>{readers.slice(0, 3).join(", ")}</span>
			</td>
			<td className={classes.last}>
				<span className={classes.said}>{ago(source.volume, nowUs)}</span>
				{source.last && (
					<span className={classes.line} title={source.last.message}>
						<SeverityTicks code={source.last.severity} /> {source.last.message.split("\n", 1)[0]}
					</span>
				)}
				<Unusual volume={source.volume} />
				{source.repeated > 0 && <span className={classes.said}>{number(source.repeated)} came twice, kept once</span>}
			</td>
			<Figures
				volume={source.volume}
				all={all}
				unread={`/intake/unread?${new URLSearchParams({ source: source.name })}`}
			/>
			<td />
		</tr>
	);
}

function FeedRows(props: {
	feed: Feed;
	all: number;
	nowUs: number;
	onChange: () => void;
	onHow: () => void;
	onRemoved: () => void;
}) {
	const { feed, all, nowUs, onChange, onHow, onRemoved } = props;
	const barred = useBarred("PATCH /api/feeds/{id}");
	const alter = useAlter();
	const remove = useRemove();
	const now = state(feed);
	return (
		<tbody data-feed={feed.name}>
			<tr className={classes.feed}>
				<td>
					<strong>{feed.name}</strong>
					<span className={classes.said}>
						{KINDS[feed.kind].title === feed.name ? place(feed) : `${KINDS[feed.kind].title} · ${place(feed)}`}
						{authors(feed)}
					</span>
				</td>
				<td>
					<span className={classes.state} data-state={now}>
						{STATES[now]}
					</span>
					{feed.problem && !feed.paused && <span className={classes.problem}>{feed.problem}</span>}
					{now === "waiting" && (
						<Button size="compact-xs" variant="subtle" onClick={onHow}>
							how lines come here
						</Button>
					)}
					<Unusual volume={feed.volume} />
					{feed.refused > 0 && <span className={classes.said}>{number(feed.refused)} refused</span>}
				</td>
				{feed.volume && <Figures volume={feed.volume} all={all} lost={feed.lost} />}
				<td className={classes.actions}>
					<Allowed to="PATCH /api/feeds/{id}">
						<Button
							size="compact-xs"
							variant="subtle"
							loading={alter.isPending}
							onClick={() => alter.mutate({ id: feed.id, paused: !feed.paused })}
						>
							{feed.paused ? "Go on" : "Pause"}
						</Button>
					</Allowed>
					<More of={feed.name}>
						<Menu.Item onClick={onHow}>How lines come here</Menu.Item>
						<Menu.Item onClick={onChange} {...barred} disabled={barred.disabled || feed.kind === "command"}>
							Change
						</Menu.Item>
						<Menu.Item {...barred} onClick={() => remove.mutate(feed.id, { onSuccess: onRemoved })}>
							Remove
						</Menu.Item>
					</More>
				</td>
			</tr>
			{feed.sources.map((source) => (
				<SourceRow key={source.id} source={source} all={all} nowUs={nowUs} />
			))}
		</tbody>
	);
}

/** Where lines come in by themselves, and how they are doing. */
export function Intake() {
	const feeds = useFeeds();
	const restore = useRestore();
	const [changing, setChanging] = useState<Feed | "new" | null>(null);
	const [how, setHow] = useState<{ id: number; token?: string } | null>(null);
	const [gone, setGone] = useState<Feed | null>(null);
	const all = feeds.data?.feeds ?? [];
	const lines = all.reduce((sum, feed) => sum + (feed.volume?.day_lines ?? 0), 0);
	const perMinute = all.reduce((sum, feed) => sum + (feed.volume?.lines.at(-2) ?? 0), 0);
	const unusual = all.flatMap((feed) => feed.sources).filter((source) => source.volume.usual).length;
	const stopped = all.filter((feed) => state(feed) === "problem").length;
	const asked = all.find((feed) => feed.id === how?.id);
	return (
		<main className={classes.screen}>
			<IntakeHead
				action={
					<Allowed to="POST /api/feeds">
						<Button onClick={() => setChanging("new")}>Add a source</Button>
					</Allowed>
				}
			>
				{feeds.data && (
					<>
						<b>{number(perMinute)}</b> lines in the last minute, <b>{number(lines)}</b> in 24 hours, from{" "}
						{number(all.length)} {all.length === 1 ? "source" : "sources"}
						{unusual > 0 && <span className={classes.problem}>; {number(unusual)} out of the usual</span>}
						{stopped > 0 && <span className={classes.problem}>; {stopped} stopped</span>}
					</>
				)}
			</IntakeHead>
			{feeds.error && <p className={classes.problem}>{feeds.error.message}</p>}
			{feeds.data?.writing_problem && (
				<p className={classes.problem} role="alert">
					{feeds.data.writing_problem}
				</p>
			)}
			{gone && (
				<Gone onUndo={() => restore.mutate(gone.id, { onSuccess: () => setGone(null) })}>
					“{gone.name}” is removed; what came in by it stays.
				</Gone>
			)}
			{feeds.data && all.length === 0 && (
				<p className={classes.said}>
					No lines come in by themselves yet. Add a source: a port to listen on, or files to follow.
				</p>
			)}
			{all.length > 0 && (
				<div className={classes.scroll}>
					<table className={classes.table}>
						<thead>
							<tr>
								<th scope="col">Source</th>
								<th scope="col">Last line</th>
								<th scope="col">Last hour</th>
								<th scope="col">per minute</th>
								<th scope="col">24 h</th>
								<th scope="col">share</th>
								<th scope="col">bytes</th>
								<th scope="col">unread</th>
								<th scope="col">lost</th>
								<th scope="col">lag</th>
								<th scope="col" aria-label="actions" />
							</tr>
						</thead>
						{all.map((feed) => (
							<FeedRows
								key={feed.id}
								feed={feed}
								all={lines}
								nowUs={feeds.data?.now_us ?? 0}
								onChange={() => setChanging(feed)}
								onHow={() => setHow({ id: feed.id })}
								onRemoved={() => setGone(feed)}
							/>
						))}
					</table>
				</div>
			)}
			{changing && (
				<FeedDialog
					feed={changing === "new" ? null : changing}
					onClose={() => setChanging(null)}
					onAdded={(feed) => {
						setChanging(null);
						setHow({ id: feed.id, token: feed.token });
					}}
				/>
			)}
			{how && asked && <FirstLine feed={asked} token={how.token} onClose={() => setHow(null)} />}
		</main>
	);
}
