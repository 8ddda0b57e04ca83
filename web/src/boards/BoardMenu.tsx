import { Button, Menu } from "@mantine/core";
import { useClipboard } from "@mantine/hooks";
import { useState } from "react";
import { useNavigate } from "react-router";
import { type Board, useBoardChanges } from "../cards/api";
import { fileName, save } from "../shared/save";
import { useBarred } from "../shared/session";
import { AccessDialog } from "./AccessDialog";
import { VersionsDialog } from "./VersionsDialog";
import { WallDialog } from "./WallDialog";

const DIALOGS = { versions: VersionsDialog, access: AccessDialog, wall: WallDialog };

/** What is done with a board as a whole. */
export function BoardMenu({ board }: { board: Board }) {
	const navigate = useNavigate();
	const clipboard = useClipboard();
	const { make, remove } = useBoardChanges();
	const [opened, setOpened] = useState<keyof typeof DIALOGS | null>(null);
	const making = useBarred("POST /api/boards");
	const deleting = useBarred("DELETE /api/boards/{id}");
	const { definition } = board;
	const Dialog = opened && DIALOGS[opened];
	const duplicate = () =>
		make.mutate(
			{ ...definition, title: `${definition.title} (copy)` },
			{ onSuccess: (made) => navigate(`/boards/${made.id}`) },
		);
	return (
		<>
			<Menu position="bottom-end">
				<Menu.Target>
					<Button variant="default">Share ▾</Button>
				</Menu.Target>
				<Menu.Dropdown>
					<Menu.Item onClick={() => clipboard.copy(window.location.href)}>Copy a link to this view</Menu.Item>
					<Menu.Item onClick={() => setOpened("wall")}>Wall view</Menu.Item>
					<Menu.Item
						onClick={() =>
							save(
								fileName(definition.title, "json"),
								new Blob([JSON.stringify(definition, null, "\t")], { type: "application/json" }),
							)
						}
					>
						Download as JSON
					</Menu.Item>
					<Menu.Divider />
					<Menu.Item onClick={duplicate} {...making}>
						Duplicate
					</Menu.Item>
					<Menu.Item onClick={() => setOpened("versions")}>Versions</Menu.Item>
					{board.grants.length > 0 && <Menu.Item onClick={() => setOpened("access")}>Access</Menu.Item>}
					{board.editable && (
						<Menu.Item
							onClick={() =>
								remove.mutate(board.id, {
									onSuccess: () => navigate(`/boards?gone=${board.id}`, { replace: true }),
								})
							}
							{...deleting}
						>
							Delete
						</Menu.Item>
					)}
				</Menu.Dropdown>
			</Menu>
			{Dialog && <Dialog board={board} onClose={() => setOpened(null)} />}
		</>
	);
}
