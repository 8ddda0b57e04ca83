import { Autocomplete, Switch, TagsInput, Textarea, TextInput } from "@mantine/core";
import classes from "./Alerts.module.css";
import { type Draft, proposedName } from "./definition";
import type { SetDraft } from "./RuleSentence";

interface Props {
	draft: Draft;
	set: SetDraft;
	/** People and teams that it may belong to. */
	owners: string[];
}

/** What is said of a rule, beside its condition. */
export function RuleAbout({ draft, set, owners }: Props) {
	return (
		<div className={classes.form}>
			<TextInput
				label="Name"
				placeholder={proposedName(draft)}
				maxLength={200}
				value={draft.name}
				onChange={(event) => set({ name: event.currentTarget.value })}
			/>
			<TextInput
				label="Why it matters"
				description="Markdown; {host.name} stands for that field of the alert, here and in links"
				value={draft.why}
				onChange={(event) => set({ why: event.currentTarget.value })}
			/>
			<Textarea
				label="First steps"
				description="what to do when it is raised, such as [runbook](https://wiki.example/{service.name})"
				autosize
				minRows={2}
				value={draft.steps}
				onChange={(event) => set({ steps: event.currentTarget.value })}
			/>
			<Autocomplete
				label="Owner"
				placeholder="nobody; or a person or team"
				maxLength={200}
				data={owners}
				value={draft.owner}
				onChange={(owner) => set({ owner })}
			/>
			<TagsInput
				label="Tags"
				description="routes may tell of some alone"
				value={draft.tags}
				onChange={(tags) => set({ tags })}
			/>
			<Switch
				label="Fold its alerts under those of machines that theirs depends on"
				checked={draft.fold}
				onChange={(event) => set({ fold: event.currentTarget.checked })}
			/>
		</div>
	);
}
