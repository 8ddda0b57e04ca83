import createClient from "openapi-fetch";
import type { paths } from "./schema";
import type { ProblemDetails } from "./types";

/** What the server said instead of an answer. */
export class Problem extends Error {
	constructor(readonly details: ProblemDetails) {
		super(details.detail);
	}
}

const UNREACHABLE: ProblemDetails = {
	type: "/problems/unreachable",
	title: "Unreachable",
	status: 0,
	detail: "Northdrift does not answer; is it still running?",
};

/** An answer that is not this application's: a proxy on the way has its own pages. */
function unclear(status: number, said: string): ProblemDetails {
	return { ...UNREACHABLE, status, detail: `The answer was not Northdrift’s: ${status} ${said}`.trim() };
}

function parsed(text: string): unknown {
	try {
		return JSON.parse(text);
	} catch {
		return null;
	}
}

/** Nothing came, or it broke off; who stopped it knows that. */
function unreachable(error: unknown): never {
	if (error instanceof DOMException && error.name === "AbortError") throw error;
	throw new Problem(UNREACHABLE);
}

type Refusal = (status: number) => void;
const listeners = new Set<Refusal>();

/** Calls whenever the server refuses something; returns what ends that. */
export function onRefusal(told: Refusal): () => void {
	listeners.add(told);
	return () => {
		listeners.delete(told);
	};
}

async function refusal(response: Response): Promise<Problem> {
	for (const told of listeners) told(response.status);
	const body = parsed(await response.text().catch(unreachable));
	return new Problem((body as ProblemDetails | null) ?? unclear(response.status, response.statusText));
}

/** The HTTP interface, by the paths and types of docs/openapi.json. */
export const api = createClient<paths>({
	baseUrl: globalThis.location?.origin,
	fetch: (request) => fetch(request),
});
api.use({
	async onResponse({ response }) {
		const json = response.headers.get("content-type")?.includes("json");
		if (!response.ok || !json) throw await refusal(response);
	},
});

/** What was asked for; what is wrong instead is thrown as a Problem. */
export async function answer<T>(asked: Promise<{ data?: T }>): Promise<T> {
	try {
		return (await asked).data as T;
	} catch (error) {
		if (error instanceof Problem) throw error;
		return unreachable(error);
	}
}

/** A query that is put together elsewhere, such as that of a question. */
export function asking<Path = undefined>(query: URLSearchParams, path?: Path) {
	return { params: { query: query as never, path: path as Path }, querySerializer: () => query.toString() };
}

/** An answer of many JSON objects, one a line, as they come. */
export function lines<T>(path: string, params: URLSearchParams, signal: AbortSignal): AsyncGenerator<T> {
	return objects(fetch(`${path}?${params}`, { signal }));
}

/** The same of a request that carries an object. */
export function postedLines<T>(path: string, body: object, signal: AbortSignal): AsyncGenerator<T> {
	const headers = { "Content-Type": "application/json" };
	return objects(fetch(path, { method: "POST", headers, body: JSON.stringify(body), signal }));
}

/** A file that is made of an object. */
export async function postedFile(path: string, body: object): Promise<Blob> {
	const headers = { "Content-Type": "application/json" };
	const response = await fetch(path, { method: "POST", headers, body: JSON.stringify(body) }).catch(unreachable);
	if (!response.ok) throw await refusal(response);
	return response.blob();
}

async function* objects<T>(asked: Promise<Response>): AsyncGenerator<T> {
	const response = await asked.catch(unreachable);
	if (!response.ok || !response.body) throw await refusal(response);
	const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
	let rest = "";
	for (let part = await reader.read(); !part.done; part = await reader.read()) {
		const whole = (rest + part.value).split("\n");
		rest = whole.pop() ?? "";
		for (const line of whole) yield JSON.parse(line) as T;
	}
}

/** Sends a file's bytes; fetch cannot tell how far an upload is. */
export function upload<T>(
	path: string,
	params: URLSearchParams,
	file: File,
	progress: (bytes: number) => void,
	signal: AbortSignal,
): Promise<T> {
	return new Promise((resolve, reject) => {
		const request = new XMLHttpRequest();
		request.open("POST", `${path}?${params}`);
		request.upload.onprogress = (event) => progress(event.loaded);
		request.onerror = () => reject(new Problem(UNREACHABLE));
		request.onabort = () => reject(new DOMException("cancelled", "AbortError"));
		request.onload = () => {
			const body = parsed(request.responseText);
			if (body !== null && request.status < 300) resolve(body as T);
			else reject(new Problem((body as ProblemDetails | null) ?? unclear(request.status, request.statusText)));
		};
		signal.addEventListener("abort", () => request.abort());
		request.send(file);
	});
}
