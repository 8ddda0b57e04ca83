import { useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useRef, useState } from "react";
import { answer, api, upload } from "../api/client";
import type { Import } from "../api/types";
import { onNews } from "../shared/events";
import { useZone } from "../shared/zone";
import { ask, type Found } from "./files";
import { ended, type Sending } from "./sending";

interface Uploads {
	sendings: Sending[];
	machine: string;
	setMachine: (machine: string) => void;
	add: (found: Found[]) => void;
	pick: (what: "files" | "folder") => void;
	cancel: (key: number) => void;
	clear: () => void;
}

const AT_ONCE = 2;
const Context = createContext<Uploads | null>(null);

/** Sends files, a few at a time, and follows what becomes of them. */
export function UploadsProvider({ children }: { children: ReactNode }) {
	const queries = useQueryClient();
	const { zone } = useZone();
	const [sendings, setSendings] = useState<Sending[]>([]);
	const [machine, setMachine] = useState("");
	const waiting = useRef<{ key: number; found: Found; given: number }[]>([]);
	const running = useRef(new Map<number, AbortController>());
	const counter = useRef(0);

	const patch = useCallback(
		(key: number, change: Partial<Sending>) =>
			setSendings((now) => now.map((one) => (one.key === key ? { ...one, ...change } : one))),
		[],
	);

	const pump = useCallback(() => {
		while (running.current.size < AT_ONCE) {
			const next = waiting.current.shift();
			if (!next) return;
			const controller = new AbortController();
			running.current.set(next.key, controller);
			const params = new URLSearchParams({ name: next.found.path, zone, given: String(next.given * 1000) });
			if (machine) params.set("machine", machine);
			upload<Import>("/api/imports", params, next.found.file, (sent) => patch(next.key, { sent }), controller.signal)
				.then((answer) => patch(next.key, { import: answer, sent: next.found.file.size }))
				.catch((error: Error) =>
					patch(next.key, {
						problem: error.name === "AbortError" ? "stopped before it was sent; nothing was kept" : error.message,
					}),
				)
				.finally(() => {
					running.current.delete(next.key);
					pump();
				});
		}
	}, [machine, patch, zone]);

	const add = useCallback(
		(found: Found[]) => {
			const given = Date.now();
			const fresh = found.map((one) => {
				counter.current += 1;
				return { key: counter.current, found: one, given };
			});
			waiting.current.push(...fresh);
			setSendings((now) => [
				...now,
				...fresh.map(({ key, found: one }) => ({
					key,
					name: one.path,
					size: one.file.size,
					sent: 0,
					import: null,
					problem: null,
				})),
			]);
			pump();
		},
		[pump],
	);

	const cancel = useCallback(
		(key: number) => {
			waiting.current = waiting.current.filter((one) => one.key !== key);
			const controller = running.current.get(key);
			const sending = sendings.find((one) => one.key === key);
			if (controller) controller.abort();
			// The server stops one that is under way, and takes back one that has ended.
			else if (sending?.import)
				void answer(api.DELETE("/api/imports/{id}", { params: { path: { id: sending.import.id } } })).then((now) =>
					patch(key, { import: now }),
				);
			else patch(key, { problem: "stopped before it was sent; nothing was kept" });
		},
		[patch, sendings],
	);

	const pick = useCallback((what: "files" | "folder") => void ask(what).then(add), [add]);
	const clear = useCallback(() => setSendings((now) => now.filter((one) => !ended(one))), []);

	// The server says when something has moved; then the state of the uploads is asked for.
	const busy = sendings.some((one) => one.import && !ended(one));
	useEffect(() => {
		if (!busy) return;
		const look = async () => {
			const { imports } = await answer(api.GET("/api/imports"));
			const known = new Map(imports.map((one) => [one.id, one]));
			setSendings((now) =>
				now.map((one) => (one.import ? { ...one, import: known.get(one.import.id) ?? one.import } : one)),
			);
			for (const name of ["status", "lines", "histogram", "silences"])
				void queries.invalidateQueries({ queryKey: [name] });
		};
		return onNews(() => void look());
	}, [busy, queries]);

	const value = useMemo(
		() => ({ sendings, machine, setMachine, add, pick, cancel, clear }),
		[sendings, machine, add, pick, cancel, clear],
	);
	return <Context value={value}>{children}</Context>;
}

export function useUploads(): Uploads {
	const uploads = useContext(Context);
	if (!uploads) throw new Error("UploadsProvider is missing");
	return uploads;
}
