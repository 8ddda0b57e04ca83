import { Button, TextInput } from "@mantine/core";
import { useRef, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import {
	type Board,
	below,
	type Card,
	cardsOf,
	type Definition,
	questionOf,
	type Span,
	useAnswers,
	useBoard,
	useBoardChanges,
	useBoards,
	useSpan,
} from "../cards/api";
import { WindowPicker } from "../investigate/WindowPicker";
import { authors } from "../shared/authors";
import { Allowed } from "../shared/session";
import { fromIso, number, toIso } from "../shared/time";
import { BoardGrid } from "./BoardGrid";
import classes from "./Boards.module.css";

const WINDOW = "last 24 hours";

/** The time that a link names, and where it names none, that of the board. */
function useTime(words: string) {
	const [params, setParams] = useSearchParams();
	const [from, to] = [params.get("from"), params.get("to")];
	const named = from !== null || to !== null;
	const span = useSpan(words, !named);
	const chosen: Span | undefined = named
		? { fromUs: from === null ? null : fromIso(from), toUs: to === null ? null : fromIso(to) }
		: span.data;
	const choose = (fromUs: number | null, toUs: number | null) => {
		const next = new URLSearchParams();
		if (fromUs !== null) next.set("from", toIso(fromUs));
		if (toUs !== null) next.set("to", toIso(toUs));
		setParams(next);
	};
	return { span: chosen, choose, error: named ? null : span.error };
}

interface HeadProps {
	board: Board;
	draft: Definition | null;
	onDraft: (draft: Definition | null) => void;
	onSave: () => void;
	saving: boolean;
}

/** What of the board as a whole is changed. */
function Arranging({ draft, onDraft, onSave, saving }: HeadProps & { draft: Definition }) {
	const text = (): Card => ({
		id: crypto.randomUUID().slice(0, 8),
		title: "Notes",
		drawing: "text",
		text: "",
		place: below(cardsOf(draft)),
	});
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
				w={150}
				value={draft.window ?? WINDOW}
				onChange={(event) => onDraft({ ...draft, window: event.currentTarget.value })}
			/>
			<span className={classes.word}>on</span>
			<TextInput
				aria-label="Narrowed to"
				placeholder="everything; or such as host.site = auk"
				w={260}
				classNames={{ input: classes.code }}
				value={draft.find ?? ""}
				onChange={(event) => onDraft({ ...draft, find: event.currentTarget.value })}
			/>
			<span className={classes.buttons}>
				<Button variant="default" onClick={() => onDraft({ ...draft, cards: [...cardsOf(draft), text()] })}>
					Add a text
				</Button>
				<Button variant="default" onClick={() => onDraft(null)}>
					Cancel
				</Button>
				<Button onClick={onSave} loading={saving}>
					Save
				</Button>
			</span>
		</>
	);
}

function Drawn({ board, draft, onDraft, onSave, saving }: HeadProps) {
	const navigate = useNavigate();
	const { remove } = useBoardChanges();
	const definition = draft ?? board.definition;
	const { span, choose, error } = useTime(definition.window ?? WINDOW);
	const drawings = useBoards().data?.drawings ?? [];
	const answers = useAnswers(definition, span);
	const cards = cardsOf(definition);
	const problem = error ?? answers.error ?? remove.error;
	return (
		<>
			<header className={classes.sentence}>
				{draft ? (
					<Arranging board={board} draft={draft} onDraft={onDraft} onSave={onSave} saving={saving} />
				) : (
					<>
						<h1>{definition.title}</h1>
						{definition.find && (
							<>
								<span className={classes.word}>on</span> <code>{definition.find}</code>
							</>
						)}
						<span className={classes.word}>between</span>
						{span && <WindowPicker fromUs={span.fromUs} toUs={span.toUs} onChoose={choose} />}
						<span className={classes.buttons}>
							<Link to="/boards">All boards</Link>
							<Allowed to="DELETE /api/boards/{id}">
								<Button
									variant="subtle"
									onClick={() =>
										remove.mutate(board.id, {
											onSuccess: () => navigate(`/boards?gone=${board.id}`, { replace: true }),
										})
									}
								>
									Delete
								</Button>
							</Allowed>
							<Allowed to="PATCH /api/boards/{id}">
								<Button onClick={() => onDraft(board.definition)}>Arrange</Button>
							</Allowed>
						</span>
					</>
				)}
			</header>
			{problem && (
				<p className={classes.problem} role="alert">
					{problem.message}
				</p>
			)}
			<div className={classes.scroll}>
				{cards.length === 0 && (
					<p className={classes.hint}>
						No cards yet. Measure something in <Link to="/?view=measure">Investigate</Link> and put it on this board; or
						arrange the board and add a text.
					</p>
				)}
				<BoardGrid
					cards={cards}
					drawings={drawings}
					shown={answers.data?.cards ?? {}}
					questionOf={(card) => questionOf(card, definition.find ?? "", span ?? { fromUs: null, toUs: null })}
					arranging={draft !== null}
					onCards={(next) => draft && onDraft({ ...draft, cards: next })}
				/>
			</div>
			<footer className={classes.foot}>
				{answers.data?.milliseconds !== undefined &&
					`${number(Object.keys(answers.data.cards).length)} cards in ${number(Math.round(answers.data.milliseconds))} ms`}
				<span>{authors(board).slice(3)}</span>
				<span>click a mark: exactly its lines</span>
			</footer>
		</>
	);
}

/** A board: its cards, all of one time. */
export function BoardPage() {
	const id = Number(useParams().id);
	const board = useBoard(id);
	const { keep } = useBoardChanges();
	const [draft, setDraft] = useState<Definition | null>(null);
	// The board that the draft was made of: it may have been changed by somebody since.
	const since = useRef(0);
	const arrange = (next: Definition | null) => {
		if (draft === null && board.data) since.current = board.data.changed_us;
		setDraft(next);
	};
	const problem = board.error ?? keep.error;
	const save = () =>
		draft && keep.mutate({ id, definition: draft, changed_us: since.current }, { onSuccess: () => setDraft(null) });
	return (
		<main className={classes.board}>
			{problem && (
				<p className={classes.problem} role="alert">
					{problem.message}
				</p>
			)}
			{board.data && <Drawn board={board.data} draft={draft} onDraft={arrange} onSave={save} saving={keep.isPending} />}
		</main>
	);
}
