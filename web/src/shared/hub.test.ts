import { afterEach, expect, test, vi } from "vitest";
import { Hub, NEWS, type Told } from "./hub";

/** A connection whose server is the test. */
class Connection extends EventTarget {
	static readonly CLOSED = 2;
	static all: Connection[] = [];
	readyState = 0;

	constructor(readonly url: string) {
		super();
		Connection.all.push(this);
	}

	say(name: string, data: unknown) {
		this.dispatchEvent(Object.assign(new Event(name), { data: JSON.stringify(data) }));
	}

	close() {
		this.readyState = Connection.CLOSED;
	}
}

vi.stubGlobal("EventSource", Connection);
afterEach(() => {
	Connection.all = [];
	vi.useRealTimers();
});

const open = () => Connection.all.filter((one) => one.readyState !== Connection.CLOSED);

function hub() {
	const heard: [string, Told][] = [];
	return { heard, hub: new Hub<string>((who, told) => heard.push([who, told])) };
}

test("all who listen share one connection, and each hears what it asked for", () => {
	const { heard, hub: all } = hub();
	all.want("one", ["find=a"]);
	all.want("two", ["find=b", NEWS]);
	const last = Connection.all.at(-1) as Connection;
	last.dispatchEvent(new Event("open"));
	expect(open()).toEqual([last]);
	expect(new URL(last.url, "http://here").searchParams.getAll("follow[]")).toEqual(["find=a", "find=b"]);
	last.say("lines", { follow: 1, lines: [] });
	last.say("change", { lines: 7 });
	expect(heard.map(([who, told]) => [who, told.name, told.topic])).toEqual([
		["two", "lines", "find=b"],
		["two", "change", NEWS],
	]);
});

test("who comes later is told how things stand", () => {
	const { heard, hub: all } = hub();
	all.want("one", ["find=a"]);
	Connection.all[0]?.say("ready", { follow: 0 });
	all.want("two", ["find=a"]);
	expect(Connection.all).toHaveLength(1);
	expect(heard.map(([who, told]) => [who, told.name])).toEqual([
		["one", "ready"],
		["two", "ready"],
	]);
});

test("the connection before is kept until the next one is there, and none is kept for nobody", () => {
	const { hub: all } = hub();
	all.want("one", ["find=a"]);
	all.want("one", ["find=b"]);
	expect(open()).toHaveLength(2);
	Connection.all[1]?.dispatchEvent(new Event("open"));
	expect(open()).toEqual([Connection.all[1]]);
	all.want("one", []);
	expect(open()).toEqual([]);
});

test("one that was refused is tried again", () => {
	vi.useFakeTimers();
	const { hub: all } = hub();
	all.want("one", [NEWS]);
	Connection.all[0]?.close();
	Connection.all[0]?.dispatchEvent(new Event("error"));
	vi.advanceTimersByTime(10_000);
	expect(open()).toHaveLength(1);
});
