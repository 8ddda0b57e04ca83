import { useRef, useState } from "react";
import { useParams } from "react-router";
import { type Board, type Definition, useBoard, useBoardChanges, useBoards } from "../cards/api";
import { authors } from "../shared/authors";
import { ArrangeBar } from "./ArrangeBar";
import { BoardSentence } from "./BoardSentence";
import classes from "./Boards.module.css";
import { BoardView } from "./BoardView";
import { useView } from "./view";

const MOST_UNDONE = 100;

/** What a board is made while it is arranged; each step can be taken back. */
function useDraft() {
	const [steps, setSteps] = useState<Definition[]>([]);
	return {
		draft: steps.at(-1) ?? null,
		start: (definition: Definition) => setSteps([definition]),
		change: (next: Definition) => setSteps((now) => [...now.slice(-MOST_UNDONE), next]),
		undo: steps.length > 1 ? () => setSteps((now) => now.slice(0, -1)) : null,
		end: () => setSteps([]),
	};
}

/** Who may see it, in a few words. */
function readers({ access, team }: Board): string {
	const all = [...(access.read ?? []), ...(access.edit ?? [])];
	if (all.length === 0) return "private";
	const everyone = all.includes("everyone");
	if (team) return `for team ${team.name}`;
	return everyone ? "for everyone" : "for some";
}

function Drawn({ board }: { board: Board }) {
	const { keep } = useBoardChanges();
	const { draft, start, change, undo, end } = useDraft();
	// The board that the draft was made of: it may have been changed by somebody since.
	const since = useRef(0);
	const definition = draft ?? board.definition;
	const view = useView(definition);
	const drawings = useBoards().data?.drawings ?? [];
	const arrange = () => {
		since.current = board.changed_us;
		start(board.definition);
	};
	const onSave = () =>
		draft && keep.mutate({ id: board.id, definition: draft, changed_us: since.current }, { onSuccess: end });
	return (
		<>
			<header className={classes.sentence}>
				{draft ? (
					<ArrangeBar
						draft={draft}
						drawings={drawings}
						saving={keep.isPending}
						onDraft={change}
						onUndo={undo}
						onCancel={end}
						onSave={onSave}
					/>
				) : (
					<BoardSentence board={board} view={view} onArrange={arrange} />
				)}
			</header>
			{keep.error && (
				<p className={classes.problem} role="alert">
					{keep.error.message}
				</p>
			)}
			<BoardView
				definition={definition}
				view={view}
				arranging={draft !== null}
				onCards={(cards) => draft && change({ ...draft, cards })}
				foot={[readers(board), ...(board.definition.tags ?? []), authors(board).slice(3)].filter(Boolean).join(" · ")}
			/>
		</>
	);
}

/** A board: its cards, all of one time. */
export function BoardPage() {
	const id = Number(useParams().id);
	const board = useBoard(id);
	return (
		<main className={classes.board}>
			{board.error && (
				<p className={classes.problem} role="alert">
					{board.error.message}
				</p>
			)}
			{board.data && <Drawn key={id} board={board.data} />}
		</main>
	);
}
