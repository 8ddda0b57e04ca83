import { Button, FileButton, TextInput } from "@mantine/core";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { type BoardInShort, type Definition, useBoardChanges, useBoardStarters, useBoards } from "../cards/api";
import { authors } from "../shared/authors";
import { Gone } from "../shared/IntakeHead";
import { Allowed } from "../shared/session";
import { dayAndYear, number } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Boards.module.css";
import { BoardsHead } from "./BoardsHead";

function Row({ board }: { board: BoardInShort }) {
	const { zone } = useZone();
	const { favour } = useBoardChanges();
	const { id, title, cards, tags, favourite, access, changed_us } = board;
	const open = [...(access.read ?? []), ...(access.edit ?? [])].includes("everyone");
	return (
		<li data-board={title}>
			<Allowed to="PUT /api/boards/{id}/favourite">
				<button
					type="button"
					className={classes.star}
					aria-pressed={favourite}
					aria-label={`Favourite: ${title}`}
					onClick={() => favour.mutate({ id, favourite: !favourite })}
				>
					{favourite ? "★" : "☆"}
				</button>
			</Allowed>
			<span>
				<Link to={`/boards/${id}`}>{title}</Link>{" "}
				{tags.map((tag) => (
					<span key={tag} className={classes.tag}>
						{tag}
					</span>
				))}
				{!open && <span className={classes.tag}>not for everyone</span>}
			</span>
			<span className={classes.figure}>
				{number(cards)} {cards === 1 ? "card" : "cards"}
			</span>
			<span className={classes.second}>{authors(board).slice(3)}</span>
			<span className={classes.second}>{dayAndYear(changed_us, zone)}</span>
		</li>
	);
}

/** Boards to start with: those first that have something to show. */
function Starters({ onBegin }: { onBegin: (definition: Definition) => void }) {
	const { data } = useBoardStarters();
	const sorted = [...(data?.starters ?? [])].sort((one, other) => Number(other.any) - Number(one.any));
	if (sorted.length === 0) return null;
	return (
		<section className={classes.starters} aria-label="Starter boards">
			<h2>Start from</h2>
			<ul className={classes.list}>
				{sorted.map(({ name, title, says, any, definition }) => (
					<li key={name} data-starter={name} data-any={any}>
						<span aria-hidden>{any ? "●" : "○"}</span>
						<span>
							<b>{title}</b> <span className={classes.second}>{says}</span>
						</span>
						<span className={classes.second}>{any ? "has data" : "no lines of this kind yet"}</span>
						<Allowed to="POST /api/boards">
							<Button
								size="compact-sm"
								variant="default"
								onClick={() => onBegin(definition)}
								aria-label={`Use ${title}`}
							>
								Use
							</Button>
						</Allowed>
					</li>
				))}
			</ul>
		</section>
	);
}

/** All boards: favourites first, then by title. */
export function Boards() {
	const navigate = useNavigate();
	const [params, setParams] = useSearchParams();
	const [text, setText] = useState("");
	const [unread, setUnread] = useState<string | null>(null);
	const { data, error } = useBoards();
	const { make, restore } = useBoardChanges();
	const gone = Number(params.get("gone"));
	const words = text.toLowerCase().split(/\s+/).filter(Boolean);
	const boards = (data?.boards ?? []).filter(({ title, tags }) =>
		words.every((word) => [title, ...tags].some((one) => one.toLowerCase().includes(word))),
	);
	const problem = unread ?? (error ?? make.error ?? restore.error)?.message;
	const begin = (definition: Definition) =>
		make.mutate(definition, { onSuccess: (board) => navigate(`/boards/${board.id}`) });
	const take = async (file: File | null) => {
		if (!file) return;
		setUnread(null);
		try {
			begin(JSON.parse(await file.text()));
		} catch {
			setUnread(`${file.name} is no JSON.`);
		}
	};
	return (
		<main className={classes.screen}>
			<BoardsHead>
				<TextInput
					aria-label="Search the boards"
					placeholder="a word of the title, a tag"
					w={260}
					value={text}
					onChange={(event) => setText(event.currentTarget.value)}
				/>
				<Allowed to="POST /api/boards">
					<FileButton onChange={take} accept="application/json,.json" inputProps={{ "aria-label": "A board’s file" }}>
						{(props) => (
							<Button variant="default" {...props}>
								Import
							</Button>
						)}
					</FileButton>
					<Button onClick={() => begin({ title: "New board" })} loading={make.isPending}>
						New board
					</Button>
				</Allowed>
			</BoardsHead>
			{problem && (
				<p className={classes.problem} role="alert">
					{problem}
				</p>
			)}
			{gone > 0 && (
				<Gone onUndo={() => restore.mutate(gone, { onSuccess: () => setParams({}) })}>The board is deleted.</Gone>
			)}
			{data && boards.length === 0 && (
				<p className={classes.hint}>
					{words.length > 0
						? "No board has these words."
						: "No boards yet. A board keeps charts side by side, all of one time: make one, and put on it what you ask in Investigate."}
				</p>
			)}
			<ul className={classes.list}>
				{boards.map((board) => (
					<Row key={board.id} board={board} />
				))}
			</ul>
			{words.length === 0 && <Starters onBegin={begin} />}
		</main>
	);
}
