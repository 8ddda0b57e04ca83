/** What a page can ask for besides questions that are followed: that anything has come in or moved on. No query is so. */
export const NEWS = "#";

/** What is told to a page: the name of the event, what it was asked for by, and its data. */
export interface Told {
	name: string;
	topic: string;
	data: unknown;
}

const NAMES = ["ready", "lines", "turned-away"];
/** Events that say how a topic stands, until the next of them. */
export const STANDING = ["ready", "change"];
/** A connection that was refused is tried again after so long. */
const AGAIN_MS = 5000;

/**
 * One connection to the server for all who listen: browsers open few to one server, and a page that waits for one shows
 * nothing. It is made anew when what is listened for changes; the one before is kept until then.
 */
export class Hub<Listener> {
	private readonly wishes = new Map<Listener, string[]>();
	private sources: EventSource[] = [];
	private key: string | null = null;
	/** How topics stand, for those who come to listen later. */
	private readonly standing = new Map<string, Told>();

	constructor(private readonly tell: (listener: Listener, told: Told) => void) {}

	/** Says what a listener wants to hear from now on: questions as queries, and {@link NEWS}. */
	want(listener: Listener, topics: string[]) {
		const before = this.wishes.get(listener) ?? [];
		if (topics.length > 0) this.wishes.set(listener, topics);
		else this.wishes.delete(listener);
		this.connect([...new Set([...this.wishes.values()].flat())].sort());
		for (const topic of topics) {
			const told = this.standing.get(topic);
			if (told && !before.includes(topic)) this.tell(listener, told);
		}
	}

	private connect(topics: string[]) {
		const key = topics.length > 0 ? JSON.stringify(topics) : null;
		if (key === this.key) return;
		this.key = key;
		this.standing.clear();
		if (key === null) this.leave([]);
		else this.open(topics);
	}

	private open(topics: string[]) {
		const followed = topics.filter((topic) => topic !== NEWS);
		const source = new EventSource(`/api/events?${new URLSearchParams(followed.map((query) => ["follow[]", query]))}`);
		this.sources.push(source);
		source.addEventListener("open", () => this.leave([source]));
		source.addEventListener("error", () => {
			if (source.readyState !== EventSource.CLOSED || this.sources.at(-1) !== source) return;
			setTimeout(() => this.sources.at(-1) === source && this.open(topics), AGAIN_MS);
		});
		source.addEventListener("change", (event) => this.pass("change", NEWS, JSON.parse(event.data)));
		for (const name of NAMES)
			source.addEventListener(name, (event: MessageEvent<string>) => {
				const data = JSON.parse(event.data) as { follow: number };
				const topic = followed[data.follow];
				if (topic !== undefined) this.pass(name, topic, data);
			});
	}

	private leave(kept: EventSource[]) {
		for (const source of this.sources) if (!kept.includes(source)) source.close();
		this.sources = kept;
	}

	private pass(name: string, topic: string, data: unknown) {
		const told = { name, topic, data };
		if (STANDING.includes(name)) this.standing.set(topic, told);
		for (const [listener, topics] of this.wishes) if (topics.includes(topic)) this.tell(listener, told);
	}
}
