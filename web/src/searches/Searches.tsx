import {
	ActionIcon,
	Button,
	CopyButton,
	Drawer,
	NativeSelect,
	Switch,
	Tabs,
	TagsInput,
	TextInput,
	Tooltip,
} from "@mantine/core";
import { IconCopy, IconDeviceFloppy, IconTrash } from "@tabler/icons-react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { authors } from "../shared/authors";
import { type Change, type Question, VIEWS, type View, write } from "../shared/question";
import { Allowed, useSession } from "../shared/session";
import { exists, type Search, type Starter, useDelete, useRestore, useSave, useSearches, useStarters } from "./api";
import classes from "./Searches.module.css";

const BLANK = /\{(\w+)\}/g;

function matches(words: string, ...texts: string[]): boolean {
	const all = texts.join(" ").toLowerCase();
	return words
		.toLowerCase()
		.split(/\s+/)
		.every((word) => all.includes(word));
}

/** A question as it is saved: with its window only when that is wanted. */
function queryOf(question: Question, withWindow: boolean): string {
	const { fromUs, toUs } = question;
	const window = withWindow ? { fromUs, toUs } : { fromUs: null, toUs: null };
	return write({ ...question, ...window, line: null, thread: "" }).toString();
}

function Save({ question, searches }: { question: Question; searches: Search[] }) {
	const [name, setName] = useState("");
	const [folder, setFolder] = useState("");
	const [tags, setTags] = useState<string[]>([]);
	const [withWindow, setWithWindow] = useState(false);
	const [team, setTeam] = useState("");
	const { teams } = useSession();
	const save = useSave();
	const submit = (overwrite: boolean) =>
		save.mutate(
			{ name, folder, tags, query: queryOf(question, withWindow), team: Number(team) || null, overwrite },
			{ onSuccess: () => setName("") },
		);
	return (
		<form
			className={classes.save}
			onSubmit={(event) => {
				event.preventDefault();
				submit(false);
			}}
		>
			<h3>Save this question</h3>
			<TextInput
				label="Name"
				required
				value={name}
				onChange={(event) => setName(event.currentTarget.value)}
				error={save.error?.message}
			/>
			<div className={classes.two}>
				<TextInput
					label="Folder"
					placeholder="none"
					list="folders"
					value={folder}
					onChange={(event) => setFolder(event.currentTarget.value)}
				/>
				<TagsInput
					label="Tags"
					value={tags}
					onChange={setTags}
					data={[...new Set(searches.flatMap((one) => one.tags))]}
				/>
			</div>
			<datalist id="folders">
				{[...new Set(searches.map((one) => one.folder))].filter(Boolean).map((one) => (
					<option key={one} value={one} />
				))}
			</datalist>
			{teams.length > 0 && (
				<NativeSelect
					label="Belongs to"
					data={[
						{ value: "", label: "everybody" },
						...teams.map(({ id, name: label }) => ({ value: String(id), label })),
					]}
					value={team}
					onChange={(event) => setTeam(event.currentTarget.value)}
				/>
			)}
			<div className={classes.buttons}>
				<Switch
					label="with its window of time"
					checked={withWindow}
					onChange={(event) => setWithWindow(event.currentTarget.checked)}
				/>
				{exists(save.error) && (
					<Button variant="default" onClick={() => submit(true)}>
						Overwrite
					</Button>
				)}
				<Allowed to="POST /api/searches">
					<Button type="submit" variant="default" loading={save.isPending}>
						Save
					</Button>
				</Allowed>
			</div>
		</form>
	);
}

function Saved({ question, words, onDone }: { question: Question; words: string; onDone: () => void }) {
	const { data, error } = useSearches();
	const navigate = useNavigate();
	const save = useSave();
	const remove = useDelete();
	const restore = useRestore();
	const [gone, setGone] = useState<Search | null>(null);
	const all = data?.searches ?? [];
	const shown = all.filter((search) =>
		matches(words, search.name, search.folder, search.query, search.team?.name ?? "", ...search.tags),
	);
	const folders = [...new Set(shown.map((search) => search.folder))];
	const askAgain = (search: Search) => {
		const params = new URLSearchParams(search.query);
		// One that was saved without a window is asked of the present one.
		if (!params.has("from") && !params.has("to"))
			for (const [name, value] of write(question)) if (name === "from" || name === "to") params.set(name, value);
		navigate(`/?${params}`);
		onDone();
	};
	return (
		<>
			<Save question={question} searches={all} />
			{(error ?? remove.error ?? restore.error) && <p>{(error ?? remove.error ?? restore.error)?.message}</p>}
			{gone && (
				<p className={classes.gone} role="status">
					“{gone.name}” is deleted.{" "}
					<Button
						size="compact-sm"
						variant="subtle"
						onClick={() => restore.mutate(gone.id, { onSuccess: () => setGone(null) })}
					>
						Undo
					</Button>
				</p>
			)}
			{all.length === 0 && (
				<p className={classes.none}>
					Nothing is saved yet. A saved question can be asked again by anyone, or by a team.
				</p>
			)}
			{folders.map((folder) => (
				<section key={folder}>
					<h3>{folder || "No folder"}</h3>
					<ul className={classes.list}>
						{shown
							.filter((search) => search.folder === folder)
							.map((search) => (
								<li key={search.id} data-search={search.name}>
									<button
										type="button"
										className={classes.name}
										title={authors(search).slice(3)}
										onClick={() => askAgain(search)}
									>
										{search.name}
									</button>
									<span className={classes.tags}>
										{[...(search.team ? [search.team.name] : []), ...search.tags].join(" · ")}
									</span>
									<CopyButton value={`${window.location.origin}/?${search.query}`}>
										{({ copied, copy }) => (
											<Tooltip label={copied ? "copied" : "copy its link"}>
												<ActionIcon
													size="sm"
													variant="subtle"
													aria-label={`copy the link of ${search.name}`}
													onClick={copy}
												>
													<IconCopy size={14} />
												</ActionIcon>
											</Tooltip>
										)}
									</CopyButton>
									<Tooltip label="overwrite with this question">
										<ActionIcon
											size="sm"
											variant="subtle"
											aria-label={`overwrite ${search.name}`}
											onClick={() =>
												save.mutate({
													name: search.name,
													folder,
													tags: search.tags,
													team: search.team?.id ?? null,
													query: queryOf(question, new URLSearchParams(search.query).has("from")),
													overwrite: true,
												})
											}
										>
											<IconDeviceFloppy size={14} />
										</ActionIcon>
									</Tooltip>
									<Allowed to="DELETE /api/searches/{id}">
										<Tooltip label="delete">
											<ActionIcon
												size="sm"
												variant="subtle"
												aria-label={`delete ${search.name}`}
												onClick={() => remove.mutate(search.id, { onSuccess: setGone })}
											>
												<IconTrash size={14} />
											</ActionIcon>
										</Tooltip>
									</Allowed>
								</li>
							))}
					</ul>
				</section>
			))}
		</>
	);
}

function Start({ starter, change, onDone }: { starter: Starter; change: Change; onDone: () => void }) {
	const [filled, setFilled] = useState<Record<string, string>>({});
	const [asking, setAsking] = useState(false);
	const go = () => {
		if (starter.blanks.some((blank) => !filled[blank]?.trim())) return setAsking(true);
		const find = starter.find.replace(BLANK, (_, blank: string) => filled[blank]?.trim() ?? "");
		const view = (VIEWS as readonly string[]).includes(starter.view) ? (starter.view as View) : "lines";
		change({ find, chips: [], hidden: [], view, measure: starter.measure ?? "", line: null });
		onDone();
	};
	return (
		<li data-starter={starter.name} data-any={starter.any === false ? undefined : ""}>
			<div className={classes.starter}>
				<button type="button" className={classes.name} onClick={go} title={starter.find || "every line"}>
					{starter.name.replace(BLANK, (_, blank: string) => filled[blank] || `a ${blank}`)}
				</button>
				<span className={classes.tags}>
					{starter.formats}
					{starter.any === false && " · nothing in this window"}
				</span>
				{asking && (
					<form
						className={classes.blanks}
						onSubmit={(event) => {
							event.preventDefault();
							go();
						}}
					>
						{starter.blanks.map((blank) => (
							<TextInput
								key={blank}
								size="xs"
								placeholder={blank}
								aria-label={blank}
								data-autofocus
								value={filled[blank] ?? ""}
								onChange={(event) => {
									const { value } = event.currentTarget;
									setFilled((now) => ({ ...now, [blank]: value }));
								}}
							/>
						))}
						<Button type="submit" size="compact-sm" variant="light">
							Ask
						</Button>
					</form>
				)}
			</div>
		</li>
	);
}

function Starters({
	question,
	change,
	words,
	onDone,
}: {
	question: Question;
	change: Change;
	words: string;
	onDone: () => void;
}) {
	const { data, error } = useStarters(question);
	const shown = (data?.starters ?? []).filter((one) => matches(words, one.topic, one.name, one.find, one.formats));
	const topics = [...new Set(shown.map((one) => one.topic))];
	// Topics and searches that find something come first.
	const dry = (starters: Starter[]) => (starters.every((one) => one.any === false) ? 1 : 0);
	const of = (topic: string) =>
		shown.filter((one) => one.topic === topic).sort((one, other) => dry([one]) - dry([other]));
	return (
		<>
			{error && <p>{error.message}</p>}
			{!data && !error && <p className={classes.none}>Looking which of them find something in this window</p>}
			{data && shown.length === 0 && <p className={classes.none}>No search to start with has these words.</p>}
			{topics
				.sort((one, other) => dry(of(one)) - dry(of(other)))
				.map((topic) => (
					<section key={topic}>
						<h3>{topic}</h3>
						<ul className={classes.list}>
							{of(topic).map((starter) => (
								<Start key={starter.name} starter={starter} change={change} onDone={onDone} />
							))}
						</ul>
					</section>
				))}
		</>
	);
}

interface Props {
	question: Question;
	change: Change;
	opened: boolean;
	onClose: () => void;
}

/** Saved questions, and searches to start with. */
export function Searches({ question, change, opened, onClose }: Props) {
	const [words, setWords] = useState("");
	return (
		<Drawer opened={opened} onClose={onClose} position="right" size={520} title="Searches" lockScroll={false}>
			<TextInput
				placeholder="search them"
				aria-label="search the searches"
				value={words}
				onChange={(event) => setWords(event.currentTarget.value)}
			/>
			<Tabs defaultValue="starters" keepMounted={false}>
				<Tabs.List>
					<Tabs.Tab value="starters">To start with</Tabs.Tab>
					<Tabs.Tab value="saved">Saved</Tabs.Tab>
				</Tabs.List>
				<Tabs.Panel value="starters">
					<Starters question={question} change={change} words={words} onDone={onClose} />
				</Tabs.Panel>
				<Tabs.Panel value="saved">
					<Saved question={question} words={words} onDone={onClose} />
				</Tabs.Panel>
			</Tabs>
		</Drawer>
	);
}
