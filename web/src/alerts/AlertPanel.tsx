import { Button } from "@mantine/core";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { Remedies } from "../cases/Remedies";
import { useKeys } from "../shared/keys";
import { Markdown } from "../shared/Markdown";
import { Samples } from "../shared/Samples";
import { Allowed, useBarred } from "../shared/session";
import { severityName } from "../shared/severity";
import { clock, day, number } from "../shared/time";
import { useZone } from "../shared/zone";
import { AlertCourse } from "./AlertCourse";
import classes from "./Alerts.module.css";
import {
	type Action,
	type AlertDetail,
	lasted,
	linesOf,
	useAlert,
	useAlertActions,
	useAlertRules,
	useQuiets,
} from "./api";
import { GiveForm } from "./GiveForm";
import { MuteForm } from "./MuteForm";
import { CloseForm, TextForm } from "./TextForm";

const DID: Record<string, string> = {
	raised: "raised",
	worse: "got worse: beyond the critical level",
	calm: "has been back to normal",
	"came again": "came again",
	take: "took it",
	give: "gave it to",
	give_back: "gave it back",
	close: "closed it",
	reopen: "reopened it",
	note: "noted",
};

function SeenBefore({ alert, onUse }: { alert: AlertDetail; onUse: (remedy: string) => void }) {
	const { zone } = useZone();
	if (alert.seen_before.length === 0) return <p className={classes.second}>not seen before</p>;
	return (
		<ul className={classes.plain}>
			{alert.seen_before.map((other) => (
				<li key={other.id}>
					{day(other.raised_us, zone)} {clock(other.raised_us, zone)}, {lasted(other)}
					{other.remedy && (
						<>
							: “{other.remedy}”{" "}
							{alert.state !== "closed" && (
								<Button size="compact-xs" variant="subtle" onClick={() => onUse(other.remedy)}>
									Use this remedy
								</Button>
							)}
						</>
					)}
				</li>
			))}
		</ul>
	);
}

/** Why nobody is told of it. */
function QuietNote({ alert }: { alert: AlertDetail }) {
	const { zone } = useZone();
	const { end } = useQuiets();
	const { quiet } = alert;
	if (!quiet) return null;
	return (
		<p className={classes.note} data-quiet>
			{quiet.kind === "mute" ? "Muted" : "Planned"}
			{quiet.made_by && ` by ${quiet.made_by}`}
			{quiet.until_us && ` until ${day(quiet.until_us, zone)} ${clock(quiet.until_us, zone)}`}
			{quiet.why && `: ${quiet.why}`}. Nobody is told of it.{" "}
			{quiet.kind === "mute" && (
				<Allowed to="DELETE /api/alert-quiets/{id}">
					<Button size="compact-xs" variant="subtle" onClick={() => end.mutate(quiet.id)}>
						End the mute
					</Button>
				</Allowed>
			)}
		</p>
	);
}

/** Under which other it is folded, and why. */
function FoldNote({ alert }: { alert: AlertDetail }) {
	const { list, keep } = useAlertRules();
	const rule = list.data?.rules.find(({ id }) => id === alert.rule_id);
	return (
		<p className={classes.note} data-fold>
			Folded under <Link to={`/alerts?show=all&alert=${alert.root_id}`}>{alert.root?.name}</Link>
			{alert.fold_path.length > 1 ? `: ${alert.fold_path.join(" needs ")}` : ", on the same machine"}; both were raised
			within ten minutes.{" "}
			{rule && (
				<Allowed to="PATCH /api/alert-rules/{id}">
					<Button
						size="compact-xs"
						variant="subtle"
						onClick={() =>
							keep.mutate({ id: rule.id, definition: { ...rule.definition, fold: false }, enabled: rule.enabled })
						}
					>
						Never fold this rule
					</Button>
				</Allowed>
			)}
		</p>
	);
}

/** One alert: what crossed, its lines, what was done, whether it came before; and what can be done with it. */
export function AlertPanel({ id, people }: { id: number; people: string[] }) {
	const { zone } = useZone();
	const { data: alert, error } = useAlert(id);
	const { act, undo } = useAlertActions();
	const [remedy, setRemedy] = useState<string | null>(null);
	const [asking, setAsking] = useState<"mute" | "give" | "note" | null>(null);
	const navigate = useNavigate();
	const barred = useBarred("POST /api/alerts/actions").disabled;
	const barredFromMutes = useBarred("POST /api/alert-quiets");
	const last = alert?.steps.filter(({ undone, what }) => !undone && what !== "calm").at(-1);
	const problem = error ?? act.error ?? undo.error;
	const does = (action: Action, text = "") => {
		setAsking(null);
		setRemedy(null);
		act.mutate({ action, ids: [id], text });
	};
	useKeys({
		t: () => alert?.state === "open" && !barred && does("take"),
		c: () => alert && alert.state !== "closed" && !barred && setRemedy(""),
		u: () => last?.who && !barred && undo.mutate(id),
		m: () => alert && alert.state !== "closed" && !alert.quiet && !barredFromMutes.disabled && setAsking("mute"),
		Enter: () => alert && navigate(linesOf(alert)),
	});
	if (!alert) return <aside className={classes.panel}>{problem?.message}</aside>;
	return (
		<aside className={classes.panel} aria-label={alert.name}>
			<h2>{alert.name}</h2>
			<p className={classes.second}>
				{alert.key.map(({ value }) => value).join(" · ")} · raised {day(alert.raised_us, zone)}{" "}
				{clock(alert.raised_us, zone)} · {lasted(alert)} · {severityName(alert.severity)}
				{alert.owner && ` · ${alert.owner}’s`}
				{alert.calm_us !== null && alert.state !== "closed" && (
					<> · back to normal since {clock(alert.calm_us, zone)}</>
				)}
			</p>
			<Allowed to="POST /api/alerts/actions">
				<div className={classes.actions}>
					{alert.state === "open" && (
						<Button size="compact-md" onClick={() => does("take")}>
							Take
						</Button>
					)}
					{alert.state === "taken" && (
						<Button size="compact-md" variant="default" onClick={() => does("give_back")}>
							Give back
						</Button>
					)}
					{alert.state !== "closed" && (
						<Button size="compact-md" variant="default" onClick={() => setRemedy("")}>
							Close…
						</Button>
					)}
					{alert.state === "closed" && (
						<Button size="compact-md" onClick={() => does("reopen")}>
							Reopen
						</Button>
					)}
					{alert.state !== "closed" && people.length > 0 && (
						<Button size="compact-md" variant="default" onClick={() => setAsking("give")}>
							Give…
						</Button>
					)}
					{alert.state !== "closed" && !alert.quiet && (
						<Button size="compact-md" variant="default" onClick={() => setAsking("mute")} {...barredFromMutes}>
							Mute…
						</Button>
					)}
					<Button size="compact-md" variant="default" onClick={() => setAsking("note")}>
						Note…
					</Button>
					{last?.who && (
						<Button size="compact-md" variant="subtle" onClick={() => undo.mutate(id)}>
							Undo
						</Button>
					)}
				</div>
			</Allowed>
			{problem && (
				<p className={classes.problem} role="alert">
					{problem.message}
				</p>
			)}
			{alert.quiet && <QuietNote alert={alert} />}
			{alert.root && <FoldNote alert={alert} />}
			<h3>What crossed</h3>
			<p>
				<code>{alert.condition}</code>
			</p>
			<AlertCourse alert={alert} />
			{alert.told.length > 0 && (
				<ul className={classes.plain} aria-label="Told by the logbook">
					{alert.told.map((says, at) => (
						<li key={`${at} ${says}`}>{says}</li>
					))}
				</ul>
			)}
			<p>
				<Link to={linesOf(alert)}>
					{alert.lines === 0 ? "Lines of that time" : `${number(alert.lines)} ${alert.lines === 1 ? "line" : "lines"}`}
				</Link>
			</p>
			<Samples lines={alert.samples} />
			{alert.causes.length > 0 && (
				<>
					<h3>What changed before</h3>
					<ol className={classes.plain} aria-label="What changed before">
						{alert.causes.map((cause) => (
							<li key={cause.id}>
								{day(cause.time_us, zone)} {clock(cause.time_us, zone)} <b>{cause.machine}</b> {cause.says}
							</li>
						))}
					</ol>
				</>
			)}
			{alert.machine && (
				<p>
					<Link
						to={`/causes?${new URLSearchParams({ at: String(alert.from_us), machine: alert.machine })}`}
						className={classes.link}
					>
						{alert.causes.length > 0 ? "All that happened before" : "What changed before"}
					</Link>
				</p>
			)}
			<h3>Seen before</h3>
			<SeenBefore alert={alert} onUse={setRemedy} />
			<Remedies remedies={alert.remedies} onUse={alert.state === "closed" ? undefined : setRemedy} />
			{alert.why && (
				<>
					<h3>Why it matters</h3>
					<Markdown text={alert.why} />
				</>
			)}
			{alert.first_steps && (
				<>
					<h3>First steps</h3>
					<Markdown text={alert.first_steps} />
				</>
			)}
			<h3>What was done</h3>
			<ol className={classes.plain}>
				{alert.steps.map((step) => (
					<li key={`${step.at_us} ${step.what}`} data-undone={step.undone || undefined}>
						{day(step.at_us, zone)} {clock(step.at_us, zone)} {step.who} {DID[step.what] ?? step.what}
						{step.text && `: “${step.text}”`}
						{step.undone && " (undone)"}
					</li>
				))}
			</ol>
			{asking === "mute" && <MuteForm alert={alert} onClose={() => setAsking(null)} />}
			{asking === "give" && (
				<GiveForm people={people} onGive={(name) => does("give", name)} onClose={() => setAsking(null)} />
			)}
			{asking === "note" && (
				<TextForm
					title={`Note on “${alert.name}”`}
					label="Note"
					action="Save"
					onDone={(text) => does("note", text)}
					onCancel={() => setAsking(null)}
				/>
			)}
			{remedy !== null && (
				<CloseForm
					title={`Close “${alert.name}”`}
					remedy={remedy}
					onDone={(text) => does("close", text)}
					onCancel={() => setRemedy(null)}
				/>
			)}
		</aside>
	);
}
