import { Button, MultiSelect, Select, Switch, TextInput } from "@mantine/core";
import { useDebouncedCallback } from "@mantine/hooks";
import { useQuery } from "@tanstack/react-query";
import { Fragment, useLayoutEffect, useMemo, useRef } from "react";
import { Link, useSearchParams } from "react-router";
import { answer, api } from "../api/client";
import { PutOnBoard } from "../cards/PutOnBoard";
import { PinButton } from "../cases/PinButton";
import { changesBefore, evidence } from "../shared/evidence";
import { exactly } from "../shared/question";
import { SeverityTicks } from "../shared/severity";
import { clock, dayAndYear, duration, number } from "../shared/time";
import { useZone } from "../shared/zone";
import { useLogbook } from "./api";
import { Density } from "./Density";
import { fold } from "./fold";
import classes from "./Logbook.module.css";
import { LogbookTabs } from "./LogbookTabs";

const FILTERS = ["kind", "machine", "person", "text", "from", "to"] as const;
/** Fewer refused logons in a row are everybody's typing mistakes, and routine. */
const GUESSES = 4;

type Setting = (typeof FILTERS)[number] | "routine" | "order";

const DAY_US = 86_400_000_000;
const dayStart = (us: number) => us - (us % DAY_US);

/** What a card of the same entries asks. */
function cardOf(params: URLSearchParams): string {
	const asked = new URLSearchParams();
	for (const name of ["kind", "person", "text"]) {
		const value = params.get(name);
		if (value) asked.set(name, value);
	}
	const machine = params.get("machine");
	if (machine) asked.set("chip", exactly("host.name", machine));
	return asked.toString();
}

/** The fleet's story: what happened to its machines, day by day. */
export function Logbook() {
	const { zone } = useZone();
	const [params, setParams] = useSearchParams();
	const asked = new URLSearchParams();
	for (const name of FILTERS) {
		const value = params.get(name);
		if (value) asked.set(name, value);
	}
	const routine = params.get("routine") === "shown";
	if (!routine) asked.set("least", "notice");
	asked.set("limit", "2000");
	const page = useLogbook(asked);
	const status = useQuery({ queryKey: ["status"], queryFn: () => answer(api.GET("/api/status")) });
	const list = useRef<HTMLOListElement>(null);
	const set = (name: Setting, value: string) =>
		setParams(
			(now) => {
				const next = new URLSearchParams(now);
				if (value) next.set(name, value);
				else next.delete(name);
				return next;
			},
			{ replace: true },
		);
	const setText = useDebouncedCallback((value: string) => set("text", value), 250);
	const data = page.data;
	const [folded, mistyped] = useMemo(() => {
		const all = fold(data?.happenings ?? []);
		const shown = all.filter(
			({ first, count }) => routine || params.get("kind") || first.kind !== "logon-failure" || count >= GUESSES,
		);
		const of = (list: typeof all) => list.reduce((sum, { count }) => sum + count, 0);
		return [shown, of(all) - of(shown)];
	}, [data, routine, params]);
	// The latest matters most: the story opens at its end.
	const opened = useRef(false);
	useLayoutEffect(() => {
		if (opened.current || folded.length === 0 || !list.current) return;
		opened.current = true;
		list.current.scrollTop = list.current.scrollHeight;
	}, [folded]);
	const titles = Object.fromEntries(data?.kinds.map(({ kind, title }) => [kind, title]) ?? []);
	const filtered = FILTERS.some((name) => params.get(name));
	const toDay = (fromUs: number) => {
		const from = folded.find(({ first }) => first.time_us >= fromUs);
		if (from) list.current?.querySelector(`[data-happening="${from.first.id}"]`)?.scrollIntoView({ block: "start" });
	};
	const byMachine = params.get("order") === "machine";
	const ordered = byMachine
		? [...folded].sort(
				(one, other) =>
					dayStart(one.first.time_us) - dayStart(other.first.time_us) ||
					(one.first.machine ?? "").localeCompare(other.first.machine ?? "") ||
					one.first.time_us - other.first.time_us,
			)
		: folded;
	let before = "";
	return (
		<main className={classes.screen} aria-busy={page.isPlaceholderData}>
			<header className={classes.head}>
				<LogbookTabs />
				<p role="status">
					{data && (
						<>
							<b>{number(data.total)}</b> {data.total === 1 ? "happening" : "happenings"}
							{data.total > data.happenings.length && `; the latest ${number(data.happenings.length)} are shown`}
							{mistyped > 0 && `; ${number(mistyped)} of them, refused logons few at a time, are routine`}
							{data.reading !== null && `; rules are new, ${Math.round(data.reading * 100)} % is read again`}
						</>
					)}
				</p>
				<PutOnBoard query={cardOf(params)} drawing="logbook" title="Logbook" />
				<Button variant="default" size="compact-md" className={classes.noPrint} onClick={() => window.print()}>
					Print
				</Button>
			</header>
			<div className={classes.filters}>
				<MultiSelect
					aria-label="Kinds"
					placeholder={params.get("kind") ? undefined : "all kinds"}
					data={
						data?.kinds
							.filter(({ kind, count }) => count > 0 || params.get("kind")?.split(",").includes(kind))
							.map(({ kind, title, count }) => ({ value: kind, label: `${title} (${number(count)})` })) ?? []
					}
					value={params.get("kind")?.split(",").filter(Boolean) ?? []}
					onChange={(kinds) => set("kind", kinds.join(","))}
					clearable
					w={190}
				/>
				<Select
					aria-label="Machine"
					placeholder="all machines"
					data={status.data?.machines ?? []}
					value={params.get("machine")}
					onChange={(machine) => set("machine", machine ?? "")}
					searchable
					clearable
					w={170}
				/>
				<Select
					aria-label="Person"
					placeholder="everybody"
					data={[
						...new Set([
							...(params.get("person") ? [params.get("person") ?? ""] : []),
							...(data?.persons.map((one) => one.name) ?? []),
						]),
					]}
					value={params.get("person")}
					onChange={(person) => set("person", person ?? "")}
					searchable
					clearable
					w={170}
				/>
				<TextInput
					aria-label="Words"
					placeholder="a service, a word"
					defaultValue={params.get("text") ?? ""}
					onChange={(event) => setText(event.currentTarget.value)}
					w={170}
				/>
				<Switch
					label="by machine"
					checked={byMachine}
					onChange={(event) => set("order", event.currentTarget.checked ? "machine" : "")}
				/>
				<Switch
					label="routine too"
					checked={routine}
					onChange={(event) => set("routine", event.currentTarget.checked ? "shown" : "")}
				/>
			</div>
			{page.error && <p className={classes.problem}>{page.error.message}</p>}
			{data && data.days.length > 0 && <Density days={data.days} onDay={toDay} />}
			{data && data.happenings.length === 0 && (
				<p className={classes.empty}>
					{filtered
						? "Nothing of the kind happened."
						: `Nothing notable was read out of the lines yet: restarts, crashes, failed services, changes, logons and the like, by ${number(data.rules)} rules.`}
				</p>
			)}
			<ol className={classes.list} ref={list}>
				{ordered.map(({ first: one, last, count }) => {
					const today = dayAndYear(one.time_us, zone);
					const heading = today !== before;
					before = today;
					return (
						<Fragment key={one.id}>
							{heading && (
								<li className={classes.day}>
									<h2>{today}</h2>
								</li>
							)}
							<li className={classes.entry} data-happening={one.id} data-kind={one.kind}>
								<time>{clock(one.time_us, zone)}</time>
								<SeverityTicks code={one.severity} />
								<button type="button" className="plain" onClick={() => set("machine", one.machine ?? "")}>
									{one.machine ?? "no machine"}
								</button>
								<span className={classes.says}>
									{one.says}
									{one.outcome && (
										<span className={classes.again}>
											{" "}
											({one.outcome.severity <= 3 ? "failed" : "done"} after {duration(one.outcome.took_us)})
										</span>
									)}
									{count > 1 && (
										<span className={classes.again}>
											{" "}
											and {number(count - 1)} more until {clock(last.time_us, zone)}
										</span>
									)}
								</span>
								<button type="button" className={classes.kind} onClick={() => set("kind", one.kind)}>
									{titles[one.kind]}
								</button>
								<span className={classes.acts}>
									<Link to={evidence(one, last)}>lines</Link>
									<Link to={changesBefore(one)} title="what changed before it">
										why
									</Link>
									<PinButton
										compact
										what={{ kind: "happening", id: one.id }}
										title={`${one.machine ?? ""}: ${one.says}`}
									/>
								</span>
							</li>
						</Fragment>
					);
				})}
			</ol>
		</main>
	);
}
