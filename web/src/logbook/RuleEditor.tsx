import { Button, Select, TextInput } from "@mantine/core";
import { useDebouncedValue } from "@mantine/hooks";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { answer, api, Problem } from "../api/client";
import { Allowed } from "../shared/session";
import { SEVERITIES, SeverityTicks } from "../shared/severity";
import { clock, number } from "../shared/time";
import { useZone } from "../shared/zone";
import { type RuleDraft, tryRule, useRules } from "./api";
import classes from "./Logbook.module.css";
import { LogbookTabs } from "./LogbookTabs";

/** A rule of one's own, tried on the last day before it is kept. */
export function RuleEditor() {
	const { zone } = useZone();
	const [params] = useSearchParams();
	const navigate = useNavigate();
	const queries = useQueryClient();
	const { list } = useRules();
	const [draft, setDraft] = useState<RuleDraft>({
		name: "",
		kind: "change",
		find: params.get("find") ?? "",
		take: "",
		says: "",
		severity: null,
	});
	const set = (patch: Partial<RuleDraft>) => setDraft((now) => ({ ...now, ...patch }));
	const [settled] = useDebouncedValue(draft, 300);
	const ready = settled.find.trim() !== "" && settled.says.trim() !== "";
	const trial = useQuery({
		queryKey: ["rule trial", settled],
		queryFn: () => tryRule(settled),
		enabled: ready,
		placeholderData: keepPreviousData,
		retry: false,
	});
	const save = useMutation({
		mutationFn: () => answer(api.POST("/api/logbook-rules", { body: draft })),
		onSuccess: () => {
			void queries.invalidateQueries();
			navigate("/logbook/rules");
		},
	});
	const problem = save.error ?? (ready ? trial.error : null);
	const part = problem instanceof Problem ? (problem.details.parameter ?? "find") : "find";
	const wrong = (name: string) => (problem && part === name ? problem.message : undefined);
	const tried = ready && !trial.error ? trial.data : undefined;
	return (
		<main className={classes.screen}>
			<header className={classes.head}>
				<LogbookTabs />
				<p />
				<Button variant="default" onClick={() => navigate("/logbook/rules")}>
					Cancel
				</Button>
				<Allowed to="POST /api/logbook-rules">
					<Button onClick={() => save.mutate()} loading={save.isPending} disabled={!ready || trial.isError}>
						Keep the rule
					</Button>
				</Allowed>
			</header>
			<div className={classes.editor}>
				<section aria-label="The rule">
					<h2>A rule for the logbook</h2>
					<TextInput
						label="Lines with"
						description="a find text, such as service.name = gatectl and berth"
						classNames={{ input: classes.code }}
						value={draft.find}
						onChange={(event) => set({ find: event.currentTarget.value })}
						error={wrong("find")}
						data-autofocus
					/>
					<TextInput
						label="Parts of the message to take"
						description="RE2 with named groups; may stay empty: berth (?P<berth>\d+) moved by (?P<who>\w+)"
						classNames={{ input: classes.code }}
						value={draft.take}
						onChange={(event) => set({ take: event.currentTarget.value })}
						error={wrong("take")}
					/>
					<TextInput
						label="Says"
						description="in plain words, with fields and parts in braces: {who} moved berth {berth}. What stands in [brackets] is left out where it has no value; {who} is the person."
						value={draft.says}
						onChange={(event) => set({ says: event.currentTarget.value })}
						error={wrong("says")}
					/>
					<Select
						label="Kind"
						data={list.data?.kinds.map(({ kind, title }) => ({ value: kind, label: title })) ?? []}
						value={draft.kind}
						onChange={(kind) => kind && set({ kind })}
						allowDeselect={false}
						searchable
						error={wrong("kind")}
					/>
					<Select
						label="Severity"
						placeholder="that of the line"
						data={SEVERITIES.slice(0, 8)}
						value={draft.severity}
						onChange={(severity) => set({ severity })}
						clearable
						error={wrong("severity")}
					/>
					<TextInput
						label="Name"
						placeholder={draft.says || "rule"}
						value={draft.name}
						onChange={(event) => set({ name: event.currentTarget.value })}
					/>
					<p className={classes.second}>
						It holds for what comes in from now on, and all lines that are there are read again in the background.
					</p>
				</section>
				<section aria-label="On the last day" aria-busy={trial.isFetching}>
					<h2>On the last day</h2>
					{!ready && <p className={classes.second}>Say which lines tell it, and what they say.</p>}
					{tried && (
						<>
							<p data-trial>
								{number(tried.lines)} lines have it; of the latest {number(tried.looked_at)} it reads{" "}
								<b>{number(tried.read)}</b>.
							</p>
							<ul className={classes.samples}>
								{tried.samples.map(({ line, says, severity }) => (
									<li key={line.id}>
										<SeverityTicks code={severity} /> {clock(line.time_us, zone)} <b>{says}</b>
										<div className={classes.second}>{line.message}</div>
									</li>
								))}
							</ul>
						</>
					)}
				</section>
			</div>
		</main>
	);
}
