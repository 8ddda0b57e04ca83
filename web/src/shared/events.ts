import { Hub, NEWS, STANDING, type Told } from "./hub";

type Heard = (name: string, data: unknown) => void;

const listeners = new Map<symbol, { topic: string; heard: Heard }>();
/** How the topics of this page stand: who listens next is told at once. */
const standing = new Map<string, Told>();
/** Listeners come and go together when a view changes: what is wanted is said once. */
const SETTLE_MS = 20;

function tell(told: Told) {
	if (STANDING.includes(told.name)) standing.set(told.topic, told);
	for (const { topic, heard } of listeners.values()) if (topic === told.topic) heard(told.name, told.data);
}

/** @returns says what is wanted to who holds the connection: the browser's other pages have it too where they can */
function connection(): (topics: string[]) => void {
	if (typeof SharedWorker === "undefined") {
		const hub = new Hub<null>((_, told) => tell(told));
		return (topics) => hub.want(null, topics);
	}
	const worker = new SharedWorker(new URL("./events.worker.ts", import.meta.url), { type: "module", name: "events" });
	worker.port.onmessage = (event: MessageEvent<Told>) => tell(event.data);
	// A page that is left says so: nobody else does.
	addEventListener("pagehide", () => worker.port.postMessage([]));
	addEventListener("pageshow", (event) => event.persisted && say());
	return (topics) => worker.port.postMessage(topics);
}

let want: ReturnType<typeof connection> | undefined;
let saying: number | undefined;

function say() {
	want ??= connection();
	const topics = [...new Set([...listeners.values()].map((one) => one.topic))];
	for (const topic of standing.keys()) if (!topics.includes(topic)) standing.delete(topic);
	want(topics);
}

function saySoon() {
	window.clearTimeout(saying);
	saying = window.setTimeout(say, SETTLE_MS);
}

/**
 * @param topic the query of a question that is followed, or {@link NEWS}
 * @returns ends the listening
 */
export function listen(topic: string, heard: Heard): () => void {
	const id = Symbol(topic);
	listeners.set(id, { topic, heard });
	const told = standing.get(topic);
	if (told) queueMicrotask(() => listeners.has(id) && heard(told.name, told.data));
	saySoon();
	return () => {
		listeners.delete(id);
		saySoon();
	};
}

/** @returns ends the listening */
export const onNews = (heard: () => void) => listen(NEWS, heard);
