import { Button, Menu, MultiSelect, Select, TagsInput, TextInput } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import { below, type Card, cardsOf, type Definition, type DrawingTitle } from "../cards/api";
import { COMPARISONS } from "../shared/compared";
import classes from "./Boards.module.css";
import { variablesOf } from "./variables";
import { WINDOW } from "./view";

interface Props {
	draft: Definition;
	drawings: DrawingTitle[];
	saving: boolean;
	onDraft: (draft: Definition) => void;
	onUndo: (() => void) | null;
	onCancel: () => void;
	onSave: () => void;
}

/** Drawings that need no question to be asked first. */
const WHOLE = ["text", "rail", "lanes", "patterns", "words", "logbook", "alerts", "availability", "map", "number"];
const FIELDS = ["host.name", "service.name", "host.site", "host.role", "severity"];

function AddCard({ draft, drawings, onDraft }: Pick<Props, "draft" | "drawings" | "onDraft">) {
	const add = ({ name, title }: DrawingTitle) => {
		const card: Card = {
			id: crypto.randomUUID().slice(0, 8),
			title: name === "text" ? "Notes" : title.replace(/^./, (first) => first.toUpperCase()),
			drawing: name as Card["drawing"],
			place: below(cardsOf(draft)),
		};
		onDraft({ ...draft, cards: [...cardsOf(draft), card] });
	};
	return (
		<Menu position="bottom-end">
			<Menu.Target>
				<Button variant="default">Add a card ▾</Button>
			</Menu.Target>
			<Menu.Dropdown>
				{drawings
					.filter(({ name }) => WHOLE.includes(name))
					.map((one) => (
						<Menu.Item key={one.name} onClick={() => add(one)}>
							{one.title}
						</Menu.Item>
					))}
			</Menu.Dropdown>
		</Menu>
	);
}

/** What of the board as a whole is changed. */
export function ArrangeBar({ draft, drawings, saving, onDraft, onUndo, onCancel, onSave }: Props) {
	const status = useQuery({ queryKey: ["status"], queryFn: () => answer(api.GET("/api/status")) });
	const chosen = (draft.variables ?? []).map(({ field }) => field);
	const fields = [...new Set([...FIELDS, ...chosen, ...(status.data?.fields ?? [])])];
	return (
		<>
			<TextInput
				aria-label="Title of the board"
				value={draft.title}
				onChange={(event) => onDraft({ ...draft, title: event.currentTarget.value })}
			/>
			<span className={classes.word}>usually of</span>
			<TextInput
				aria-label="Its time"
				w={130}
				value={draft.window ?? WINDOW}
				onChange={(event) => onDraft({ ...draft, window: event.currentTarget.value })}
			/>
			<span className={classes.word}>compared with</span>
			<Select
				aria-label="Usually compared with"
				w={150}
				data={Object.entries(COMPARISONS).map(([value, label]) => ({ value, label }))}
				value={draft.compared ?? ""}
				allowDeselect={false}
				onChange={(compared) => onDraft({ ...draft, compared: compared ?? "" })}
			/>
			<span className={classes.buttons}>
				<AddCard draft={draft} drawings={drawings} onDraft={onDraft} />
				<Button variant="default" onClick={() => onUndo?.()} disabled={!onUndo}>
					Undo
				</Button>
				<Button variant="default" onClick={onCancel}>
					Cancel
				</Button>
				<Button onClick={onSave} loading={saving}>
					Save
				</Button>
			</span>
			<span className={classes.row}>
				<span className={classes.word}>on</span>
				<TextInput
					aria-label="Narrowed to"
					placeholder="everything; or such as host.site = auk"
					w={270}
					classNames={{ input: classes.code ?? "" }}
					value={draft.find ?? ""}
					onChange={(event) => onDraft({ ...draft, find: event.currentTarget.value })}
				/>
				<span className={classes.word}>readers choose</span>
				<MultiSelect
					aria-label="Fields that readers choose a value of"
					placeholder={chosen.length ? "" : "no field"}
					miw={200}
					data={fields}
					value={chosen}
					onChange={(next) => onDraft({ ...draft, variables: variablesOf(next, draft.variables ?? []) })}
					searchable
					selectFirstOptionOnChange
					maxValues={10}
				/>
				<span className={classes.word}>tags</span>
				<TagsInput
					aria-label="Tags"
					miw={160}
					value={draft.tags ?? []}
					onChange={(tags) => onDraft({ ...draft, tags })}
				/>
			</span>
		</>
	);
}
