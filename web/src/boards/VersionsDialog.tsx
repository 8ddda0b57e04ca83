import { Button, Modal } from "@mantine/core";
import { type Board, useBoardChanges, useVersions } from "../cards/api";
import { clock, dayAndYear, number } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Boards.module.css";

/** What a board was before each change, to go back to. */
export function VersionsDialog({ board, onClose }: { board: Board; onClose: () => void }) {
	const { zone } = useZone();
	const { data, error } = useVersions(board.id);
	const { goBack } = useBoardChanges();
	const problem = error ?? goBack.error;
	return (
		<Modal opened onClose={onClose} title="Versions" size="lg">
			{problem && <p role="alert">{problem.message}</p>}
			{data?.versions.length === 0 && <p>Nobody has changed this board yet.</p>}
			<table className={classes.groups}>
				<tbody>
					{data?.versions.map(({ id, title, cards, changed_us, changed_by }) => (
						<tr key={id}>
							<td>
								{dayAndYear(changed_us, zone)} {clock(changed_us, zone)}
							</td>
							<td>{title}</td>
							<td className={classes.figure}>{number(cards)} cards</td>
							<td>{changed_by}</td>
							<td className={classes.figure}>
								{board.editable && (
									<Button
										size="compact-sm"
										variant="default"
										onClick={() => goBack.mutate({ id: board.id, version: id }, { onSuccess: onClose })}
									>
										Restore
									</Button>
								)}
							</td>
						</tr>
					))}
				</tbody>
			</table>
		</Modal>
	);
}
