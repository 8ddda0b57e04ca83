import { Modal, Tabs } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import type { LineDetail } from "../api/types";
import { ChangesBefore } from "../cause/ChangesBefore";
import type { Change, Question } from "../shared/question";
import { FileView } from "./FileView";
import { Ladder } from "./Ladder";
import { Nearby } from "./Nearby";
import { SeenBefore } from "./SeenBefore";

/** Fields whose value is of one request, session, user or process. */
const OF_ONE = /^(user\.name|process\.pid)$|[._]id$/;

export function threadFields(line: LineDetail): string[] {
	return Object.keys(line.fields).filter((name) => OF_ONE.test(name));
}

interface Props {
	id: string;
	question: Question;
	change: Change;
}

/** What a line belongs to: what stood around it, the same request on other machines, whether it came before, its file. */
export function Thread({ id, question, change }: Props) {
	const { data: line } = useQuery({
		queryKey: ["line", id],
		queryFn: ({ signal }) => answer(api.GET("/api/lines/{id}", { params: { path: { id } }, signal })),
	});
	const close = () => change({ thread: "" }, { replace: true });
	const choose = (other: string) => change({ line: other, thread: "" });
	return (
		<Modal
			opened
			onClose={close}
			size={1160}
			lockScroll={false}
			title={line ? `Thread of: ${line.message.split("\n", 1)[0]?.slice(0, 110)}` : "Thread"}
		>
			{line && (
				<Tabs
					value={question.thread}
					onChange={(thread) => change({ thread: thread ?? "" }, { replace: true })}
					keepMounted={false}
				>
					<Tabs.List>
						<Tabs.Tab value="nearby">Nearby</Tabs.Tab>
						{threadFields(line).map((field) => (
							<Tabs.Tab key={field} value={field}>
								Same {field}
							</Tabs.Tab>
						))}
						<Tabs.Tab value="seen">Seen before</Tabs.Tab>
						<Tabs.Tab value="file">In its file</Tabs.Tab>
						<Tabs.Tab value="changed">What changed before</Tabs.Tab>
					</Tabs.List>
					<Tabs.Panel value="nearby">
						<Nearby line={line} question={question} onChoose={choose} />
					</Tabs.Panel>
					{threadFields(line).map((field) => (
						<Tabs.Panel key={field} value={field}>
							<Ladder line={line} field={field} question={question} onChoose={choose} change={change} />
						</Tabs.Panel>
					))}
					<Tabs.Panel value="seen">
						<SeenBefore line={line} change={change} />
					</Tabs.Panel>
					<Tabs.Panel value="changed" pt="sm">
						<ChangesBefore asked={new URLSearchParams({ line: line.id })} />
					</Tabs.Panel>
					<Tabs.Panel value="file">
						<FileView line={line} onChoose={choose} />
					</Tabs.Panel>
				</Tabs>
			)}
		</Modal>
	);
}
