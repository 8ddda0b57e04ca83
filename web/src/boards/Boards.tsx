import { Button, FileButton, TextInput } from "@mantine/core";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { type BoardInShort, type Definition, useBoardChanges, useBoards } from "../cards/api";
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
		</main>
	);
}
