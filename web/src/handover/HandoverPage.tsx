import { Button, Textarea } from "@mantine/core";
import { useLocalStorage } from "@mantine/hooks";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { BoardsHead } from "../boards/BoardsHead";
import { WindowPicker } from "../investigate/WindowPicker";
import { Markdown } from "../shared/Markdown";
import { Allowed, useSession, useWhyNot } from "../shared/session";
import { clock, dayAndYear, fromIso, toIso, windowName } from "../shared/time";
import { useZone } from "../shared/zone";
import { type Handover, useHandover, useHandoverChanges, useHandovers, useSummary } from "./api";
import classes from "./Handover.module.css";
import { Sections } from "./Sections";

/** Handovers before this one, and who has acknowledged them. */
function Earlier({ chosen }: { chosen: number | null }) {
	const { zone } = useZone();
	const { data } = useHandovers(useWhyNot("GET /api/handovers") === null);
	if (!data) return null;
	return (
		<aside className={classes.earlier} aria-label="Earlier handovers">
			<h2>Earlier</h2>
			{data.handovers.length === 0 && <p className={classes.more}>Nobody has handed over a shift yet.</p>}
			<ul>
				{data.handovers.map((one) => (
					<li key={one.id} aria-current={one.id === chosen ? "page" : undefined}>
						<Link to={`/handover?id=${one.id}`}>{windowName(one.from_us, one.to_us, zone)}</Link>
						<span className={classes.more}>
							{[one.made_by, one.acknowledged_us === null ? "not acknowledged" : "acknowledged"]
								.filter(Boolean)
								.join(" · ")}
						</span>
					</li>
				))}
			</ul>
		</aside>
	);
}

/** One that was handed over, as it was then. */
function Given({ handover }: { handover: Handover }) {
	const { zone } = useZone();
	const { person } = useSession();
	const { remark, acknowledge } = useHandoverChanges();
	const [draft, setDraft] = useState<string | null>(null);
	const { id, acknowledged_us: at, acknowledged_by: by, made_by: giver, created_us: given, remarks } = handover;
	const problem = remark.error ?? acknowledge.error;
	const own = person !== null && person.name === giver;
	return (
		<>
			<p className={classes.state} role="status">
				Handed over {giver && `by ${giver} `}on {dayAndYear(given, zone)} {clock(given, zone)}.{" "}
				{at === null
					? "Not acknowledged yet."
					: `Acknowledged ${by ? `by ${by} ` : ""}on ${dayAndYear(at, zone)} ${clock(at, zone)}.`}
			</p>
			{problem && <p role="alert">{problem.message}</p>}
			<section className={classes.section}>
				<h2>Remarks</h2>
				{draft === null ? (
					<>
						<Markdown text={remarks || "None."} />
						{at === null && (
							<Allowed to="PATCH /api/handovers/{id}">
								<Button size="compact-sm" variant="default" onClick={() => setDraft(remarks)}>
									Edit remarks
								</Button>
							</Allowed>
						)}
					</>
				) : (
					<>
						<Textarea
							aria-label="Remarks"
							autosize
							minRows={3}
							value={draft}
							onChange={(event) => setDraft(event.currentTarget.value)}
						/>
						<div className={classes.buttons}>
							<Button variant="default" onClick={() => setDraft(null)}>
								Cancel
							</Button>
							<Button
								loading={remark.isPending}
								onClick={() => remark.mutate({ id, remarks: draft }, { onSuccess: () => setDraft(null) })}
							>
								Save
							</Button>
						</div>
					</>
				)}
			</section>
			<Sections sections={handover.sections} />
			{at === null && !own && (
				<Allowed to="POST /api/handovers/{id}/acknowledged">
					<Button onClick={() => acknowledge.mutate(id)} loading={acknowledge.isPending}>
						Acknowledge
					</Button>
				</Allowed>
			)}
		</>
	);
}

interface DraftProps {
	fromUs: number | null;
	toUs: number | null;
}

/** What there is to hand over now. */
function Draft({ fromUs, toUs }: DraftProps) {
	const navigate = useNavigate();
	const [, setParams] = useSearchParams();
	const summary = useSummary(fromUs, toUs, true);
	const { give } = useHandoverChanges();
	// It is there again for who goes to look at something meanwhile.
	const [remarks, setRemarks] = useLocalStorage({ key: "handover remarks", defaultValue: "" });
	const data = summary.data;
	const problem = summary.error ?? give.error;
	const choose = (from: number | null, to: number | null) =>
		setParams({
			...(from !== null && { from: toIso(from) }),
			...(to !== null && { to: toIso(to) }),
		});
	const hand = () =>
		data &&
		give.mutate(
			{ from_us: data.from_us, to_us: data.to_us, remarks },
			{
				onSuccess: (made) => {
					setRemarks("");
					navigate(`/handover?id=${made.id}`);
				},
			},
		);
	return (
		<>
			<header className={classes.sentence}>
				<span>What happened between</span>
				{data && <WindowPicker fromUs={data.from_us} toUs={data.to_us} onChoose={choose} />}
				<span className={classes.buttons}>
					<Button variant="default" onClick={() => window.print()}>
						Print
					</Button>
					<Allowed to="POST /api/handovers">
						<Button onClick={hand} loading={give.isPending} disabled={!data}>
							Hand over
						</Button>
					</Allowed>
				</span>
			</header>
			{problem && <p role="alert">{problem.message}</p>}
			<Textarea
				label="Remarks for the next shift"
				description="Markdown"
				autosize
				minRows={2}
				value={remarks}
				onChange={(event) => setRemarks(event.currentTarget.value)}
			/>
			{summary.isLoading && <p className={classes.more}>Looking at the shift…</p>}
			{data && <Sections sections={data.sections} />}
		</>
	);
}

/** What the next shift must know. */
export function HandoverPage() {
	const [params] = useSearchParams();
	const { zone } = useZone();
	const id = params.has("id") ? Number(params.get("id")) : null;
	const handover = useHandover(id);
	const moment = (name: string) => fromIso(params.get(name) ?? "");
	return (
		<main className={classes.screen}>
			<BoardsHead />
			<div className={classes.body}>
				<article className={classes.page}>
					{id === null ? (
						<Draft fromUs={moment("from")} toUs={moment("to")} />
					) : (
						<>
							<header className={classes.sentence}>
								<span>
									What happened between{" "}
									<b>{handover.data && windowName(handover.data.from_us, handover.data.to_us, zone)}</b>
								</span>
								<span className={classes.buttons}>
									<Link to="/handover">The shift now</Link>
									<Button variant="default" onClick={() => window.print()}>
										Print
									</Button>
								</span>
							</header>
							{handover.error && <p role="alert">{handover.error.message}</p>}
							{handover.data && <Given key={id} handover={handover.data} />}
						</>
					)}
				</article>
				<Earlier chosen={id} />
			</div>
		</main>
	);
}
