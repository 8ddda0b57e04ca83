import { Button, NumberInput, SegmentedControl, Select, TextInput } from "@mantine/core";
import { useDebouncedValue } from "@mantine/hooks";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { Problem } from "../api/client";
import intake from "../intake/Intake.module.css";
import { IntakeHead } from "../shared/IntakeHead";
import { Allowed } from "../shared/session";
import { SeverityTicks } from "../shared/severity";
import { bytes, clock, number } from "../shared/time";
import { useZone } from "../shared/zone";
import { type Action, NOISE, type NoiseDraft, tryNoise, useKeep } from "./api";
import classes from "./Rules.module.css";

const HOUR_US = 3_600_000_000;
const ENDS: Record<string, { label: string; us: number | null }> = {
	never: { label: "until it is removed", us: null },
	hour: { label: "for an hour", us: HOUR_US },
	day: { label: "for a day", us: 24 * HOUR_US },
	week: { label: "for a week", us: 7 * 24 * HOUR_US },
	month: { label: "for 30 days", us: 30 * 24 * HOUR_US },
};

const ACTIONS: { value: Action; label: string }[] = [
	{ value: "drop", label: "drop them" },
	{ value: "thin", label: "keep one in so many" },
	{ value: "hide", label: "keep, but hide from view" },
];

function share(part: number, whole: number): string {
	if (whole === 0) return "";
	const percent = (100 * part) / whole;
	return ` (${percent > 0 && percent < 1 ? "< 1" : Math.round(percent)} %)`;
}

/** A noise rule, tried on the last day before it holds. */
export function NoiseEditor() {
	const { zone } = useZone();
	const [params] = useSearchParams();
	const navigate = useNavigate();
	const keepRule = useKeep(NOISE, null);
	const [find, setFind] = useState(params.get("find") ?? "");
	const [name, setName] = useState("");
	const [action, setAction] = useState<Action>("drop");
	const [keep, setKeep] = useState(10);
	const [ends, setEnds] = useState("never");
	const wanted: NoiseDraft = { name: name.trim(), find: find.trim(), action, keep, expires_us: null };
	const [settled] = useDebouncedValue(wanted, 300);
	const trial = useQuery({
		queryKey: ["noise trial", settled.find, settled.action, settled.keep],
		queryFn: () => tryNoise(settled),
		enabled: settled.find !== "",
		placeholderData: keepPreviousData,
		retry: false,
	});
	const problem = keepRule.error ?? (find.trim() ? trial.error : null);
	const unfit = problem instanceof Problem ? problem.details.parameter : undefined;
	const answer = find.trim() && !trial.error ? trial.data : undefined;
	const save = () => {
		const us = ENDS[ends]?.us ?? null;
		keepRule.mutate(
			{ ...wanted, expires_us: us === null ? null : Date.now() * 1000 + us },
			{ onSuccess: () => navigate("/intake/noise") },
		);
	};
	return (
		<main className={intake.screen}>
			<IntakeHead
				action={
					<>
						<Button variant="default" onClick={() => navigate("/intake/noise")}>
							Cancel
						</Button>
						<Allowed to="POST /api/noise-rules">
							<Button onClick={save} loading={keepRule.isPending} disabled={find.trim() === ""}>
								Let the rule hold
							</Button>
						</Allowed>
					</>
				}
			/>
			<div className={classes.editor}>
				<section className={classes.made} aria-label="The rule">
					<h2>A noise rule</h2>
					<TextInput
						label="Lines with"
						description="a find text, such as pattern = P12 or service.name = cron severity = debug"
						classNames={{ input: classes.code }}
						value={find}
						onChange={(event) => setFind(event.currentTarget.value)}
						error={problem && unfit !== "keep" ? problem.message : undefined}
						data-autofocus
					/>
					<SegmentedControl
						aria-label="What becomes of them"
						classNames={{ root: classes.choice }}
						data={ACTIONS}
						value={action}
						onChange={(value) => setAction(value as Action)}
					/>
					<div className={classes.choices}>
						{action === "thin" && (
							<NumberInput
								label="One in so many is kept"
								value={keep}
								min={2}
								max={1_000_000}
								onChange={(value) => setKeep(Number(value) || 2)}
								error={unfit === "keep" ? problem?.message : undefined}
							/>
						)}
						<Select
							label="It holds"
							data={Object.entries(ENDS).map(([value, { label }]) => ({ value, label }))}
							value={ends}
							onChange={(value) => value && setEnds(value)}
							allowDeselect={false}
						/>
						<TextInput
							label="Name"
							placeholder={find.trim() || "noise"}
							value={name}
							onChange={(event) => setName(event.currentTarget.value)}
						/>
					</div>
					<p className={intake.said}>
						{action === "hide"
							? "All lines are kept. What is hidden can be shown in Investigate, at its foot."
							: "It holds for what comes in from now on; what is stored stays. While following, what it turns away is still told."}
					</p>
				</section>
				<section className={classes.tried} aria-label="On the last day" aria-busy={trial.isFetching}>
					<h2>On the last day</h2>
					{!find.trim() && <p className={intake.said}>Say which lines it should take.</p>}
					{answer && (
						<>
							<p data-trial>
								{action === "hide" ? "It would have hidden" : "It would have taken"} <b>{number(answer.lines)}</b> of{" "}
								{number(answer.all_lines)} lines{share(answer.lines, answer.all_lines)}, {bytes(answer.bytes)}.
							</p>
							{answer.matched === 0 && <p className={intake.problem}>No line of that day is like this.</p>}
							<ul className={classes.trial}>
								{answer.samples.map((line) => (
									<li key={line.id}>
										<span className={classes.message} title={line.message}>
											<SeverityTicks code={line.severity} /> {clock(line.time_us, zone)} {line.machine} {line.message}
										</span>
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
