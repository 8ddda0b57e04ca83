import { Button } from "@mantine/core";
import { useDebouncedValue } from "@mantine/hooks";
import { useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { Problem } from "../api/client";
import { Allowed } from "../shared/session";
import { useZone } from "../shared/zone";
import classes from "./Alerts.module.css";
import { AlertsHead } from "./AlertsHead";
import { type AlertRule, useAlertRules } from "./api";
import { complete, type Draft, EMPTY, read, write } from "./definition";
import { RuleAbout } from "./RuleAbout";
import { RuleSentence, type SetDraft } from "./RuleSentence";
import { RuleTrial } from "./RuleTrial";

const SETTLE_MS = 350;

function Form({ known, start }: { known: AlertRule | null; start: Draft }) {
	const navigate = useNavigate();
	const { zone } = useZone();
	const { list, keep } = useAlertRules();
	const [draft, setDraft] = useState(start);
	const [settled] = useDebouncedValue(draft, SETTLE_MS);
	const [trialProblem, setTrialProblem] = useState<Error | null>(null);
	const set: SetDraft = (part) => setDraft((now) => ({ ...now, ...part }));
	const problem = keep.error ?? (complete(draft) ? trialProblem : null);
	const save = (enabled: boolean) =>
		keep.mutate(
			{ id: known?.id ?? null, definition: write(draft, zone), enabled },
			{ onSuccess: () => navigate("/alerts/rules") },
		);
	return (
		<main className={classes.screen}>
			<AlertsHead>
				<Button size="compact-md" variant="default" onClick={() => navigate("/alerts/rules")}>
					Cancel
				</Button>
				<Allowed to="POST /api/alert-rules">
					<div className={classes.actions}>
						<Button size="compact-md" variant="default" disabled={!complete(draft)} onClick={() => save(false)}>
							Save, off
						</Button>
						<Button size="compact-md" disabled={!complete(draft)} loading={keep.isPending} onClick={() => save(true)}>
							Save and switch on
						</Button>
					</div>
				</Allowed>
			</AlertsHead>
			<div className={classes.editor}>
				<div className={classes.made}>
					<RuleSentence
						draft={draft}
						set={set}
						problem={problem instanceof Problem ? problem : null}
						kinds={list.data?.kinds ?? []}
						reasons={list.data?.reasons ?? []}
					/>
					{problem && !(problem instanceof Problem && problem.details.parameter) && (
						<p className={classes.problem} role="alert">
							{problem.message}
						</p>
					)}
					<RuleAbout draft={draft} set={set} owners={list.data?.owners ?? []} />
				</div>
				<RuleTrial
					draft={settled}
					onProblem={setTrialProblem}
					onLevel={(level, unit) => set(draft.kind === "measure" ? { level: `${level}${unit}` } : { times: level })}
				/>
			</div>
		</main>
	);
}

/** An alert rule, tried on the past as it is typed. */
export function AlertRuleEditor() {
	const { id } = useParams();
	const [params] = useSearchParams();
	const { list } = useAlertRules();
	if (!id) return <Form known={null} start={{ ...EMPTY, find: params.get("find") ?? "" }} />;
	const known = list.data?.rules.find((rule) => String(rule.id) === id);
	if (!known)
		return (
			<main className={classes.screen}>{list.data ? "There is no such rule any more." : list.error?.message}</main>
		);
	return <Form key={known.id} known={known} start={read(known.definition)} />;
}
