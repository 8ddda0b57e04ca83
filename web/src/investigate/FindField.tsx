import {
	acceptCompletion,
	autocompletion,
	type CompletionContext,
	type CompletionResult,
	completionStatus,
	startCompletion,
} from "@codemirror/autocomplete";
import { defaultKeymap, history, historyKeymap } from "@codemirror/commands";
import { HighlightStyle, StreamLanguage, syntaxHighlighting } from "@codemirror/language";
import { type Diagnostic, setDiagnostics } from "@codemirror/lint";
import { EditorState, Prec } from "@codemirror/state";
import { EditorView, keymap, placeholder } from "@codemirror/view";
import { tags } from "@lezer/highlight";
import { useEffect, useRef } from "react";
import { answer, api, asking } from "../api/client";
import type { Completion, ProblemDetails } from "../api/types";
import { nonce } from "../shared/nonce";
import { field, quote } from "../shared/question";

const OPERATOR = /^(!=|<=|>=|!~|[=<>~])/;

/** Enough of the find language to colour it; the server alone decides what a text means. */
const language = StreamLanguage.define<{ value: boolean }>({
	startState: () => ({ value: false }),
	token(stream, state) {
		if (stream.eatSpace()) return null;
		if (stream.match(/^"(?:[^"\\]|\\.)*"(?=\s*(?:!=|<=|>=|!~|[=<>~]|in\s*\())/i)) return "propertyName";
		if (stream.match(/^"(?:[^"\\]|\\.)*"?/)) return "string";
		if (state.value && stream.match(/^\/(?:[^/\\]|\\.)*\/?/)) {
			state.value = false;
			return "string";
		}
		state.value = false;
		if (stream.match(/^(and|or|not|has|in)(?=[\s()]|$)/i)) return "keyword";
		if (stream.match(OPERATOR)) {
			state.value = true;
			return "operator";
		}
		if (stream.match(/^[A-Za-z_@][\w.@/-]*(?=\s*(?:!=|<=|>=|!~|[=<>~]))/)) return "propertyName";
		if (stream.match(/^[()]/)) return "operator";
		stream.match(/^[^\s()"=<>~!]+/) || stream.next();
		return null;
	},
});

const colours = HighlightStyle.define([
	{ tag: tags.keyword, color: "var(--primary)", fontWeight: "500" },
	{ tag: tags.operator, color: "var(--primary)" },
	{ tag: tags.propertyName, color: "var(--primary)" },
	{ tag: tags.string, color: "var(--variable)" },
]);

const KINDS: Record<Completion["kind"], string> = {
	field: "field",
	machine: "machine",
	service: "service",
	word: "word",
	value: "value",
};

async function complete(context: CompletionContext): Promise<CompletionResult | null> {
	const before = context.state.sliceDoc(0, context.pos);
	const value = /([A-Za-z_@][\w.@/-]*|"(?:[^"\\]|\\.)*")\s*(?:!=|<=|>=|[=<>])\s*("?)([^\s"()]*)$/.exec(before);
	const word = value ? null : /[^\s()"]*$/.exec(before);
	const prefix = value ? (value[3] ?? "") : (word?.[0] ?? "");
	if (!value && prefix === "" && !context.explicit) return null;

	const params = new URLSearchParams({ prefix });
	if (value?.[1]) params.set("field", value[1].replace(/^"|"$|\\(?=["\\])/g, ""));
	const controller = new AbortController();
	context.addEventListener("abort", () => controller.abort());
	const found = await answer(api.GET("/api/completions", { ...asking(params), signal: controller.signal })).catch(
		() => null,
	);
	if (!found?.completions.length) return null;
	return {
		from: context.pos - prefix.length - (value?.[2]?.length ?? 0),
		filter: false,
		options: found.completions.map((one) => ({
			label: one.text,
			detail: one.count ? `${KINDS[one.kind]} · ${one.count}` : KINDS[one.kind],
			apply: one.kind === "field" ? `${field(one.text)} = ` : quote(one.text),
		})),
	};
}

const look = EditorView.theme({
	"&": { fontSize: "15px", backgroundColor: "transparent" },
	"&.cm-focused": { outline: "none" },
	".cm-content": {
		fontFamily: "var(--font-lines)",
		fontWeight: "600",
		color: "var(--ink)",
		padding: "6px 0",
		caretColor: "var(--ink)",
	},
	".cm-line": { padding: "0 8px" },
	".cm-scroller": { overflowX: "auto", scrollbarWidth: "none", lineHeight: "20px" },
	".cm-placeholder": { color: "var(--ink-third)", fontWeight: "400" },
	".cm-selectionBackground, &.cm-focused .cm-selectionBackground": { background: "var(--match) !important" },
	".cm-cursor": { borderLeftColor: "var(--ink)" },
	".cm-lintRange-error": {
		textDecoration: "underline wavy var(--severity-error) 1.5px",
		textUnderlineOffset: "4px",
		backgroundImage: "none",
	},
	".cm-tooltip": {
		backgroundColor: "var(--sheet)",
		border: "1px solid var(--rule)",
		borderRadius: "4px",
		color: "var(--ink)",
	},
	".cm-tooltip-autocomplete > ul": { fontFamily: "var(--font-lines)", maxHeight: "18em" },
	".cm-tooltip-autocomplete > ul > li": { padding: "2px 8px !important" },
	".cm-tooltip-autocomplete > ul > li[aria-selected]": {
		backgroundColor: "var(--primary-soft) !important",
		color: "var(--ink) !important",
	},
	".cm-completionIcon": { display: "none" },
	".cm-completionDetail": { color: "var(--ink-second)", fontStyle: "normal", marginLeft: "1.5em" },
});

interface Props {
	text: string;
	mistake: ProblemDetails | null;
	onText: (text: string) => void;
	onAsk: () => void;
	onLeave: () => void;
}

/** The field for the find text: one line, with completion; a mistake is underlined where it is. */
export function FindField({ text, mistake, onText, onAsk, onLeave }: Props) {
	const host = useRef<HTMLDivElement>(null);
	const view = useRef<EditorView | null>(null);
	const calls = useRef({ onText, onAsk, onLeave });
	calls.current = { onText, onAsk, onLeave };
	const initial = useRef(text);

	useEffect(() => {
		if (!host.current) return;
		const editor = new EditorView({
			parent: host.current,
			state: EditorState.create({
				doc: initial.current,
				extensions: [
					EditorView.cspNonce.of(nonce()),
					EditorView.contentAttributes.of({ "aria-label": "Find", "data-find": "", tabindex: "0" }),
					EditorState.transactionFilter.of((change) => (change.newDoc.lines > 1 ? [] : change)),
					Prec.highest(
						keymap.of([
							{ key: "Tab", run: (target) => completionStatus(target.state) === "active" && acceptCompletion(target) },
							{
								key: "Enter",
								run: (target) => {
									if (completionStatus(target.state) === "active" && acceptCompletion(target)) return true;
									calls.current.onAsk();
									return true;
								},
							},
							{
								key: "Escape",
								run: (target) => {
									if (completionStatus(target.state) === "active") return false;
									target.contentDOM.blur();
									calls.current.onLeave();
									return true;
								},
							},
							{ key: "Ctrl-Space", run: startCompletion },
						]),
					),
					history(),
					keymap.of([...defaultKeymap, ...historyKeymap]),
					language,
					syntaxHighlighting(colours),
					autocompletion({ override: [complete], selectOnOpen: false, icons: false }),
					placeholder('words, "a phrase", time*, host.name = …, severity >= warning'),
					look,
					EditorView.updateListener.of((update) => {
						if (update.docChanged) calls.current.onText(update.state.doc.toString());
					}),
				],
			}),
		});
		view.current = editor;
		return () => editor.destroy();
	}, []);

	useEffect(() => {
		const editor = view.current;
		if (editor && editor.state.doc.toString() !== text) {
			editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: text } });
		}
	}, [text]);

	useEffect(() => {
		const editor = view.current;
		if (!editor) return;
		const marks: Diagnostic[] = [];
		if (mistake?.column) {
			const from = Math.min((mistake?.column ?? 1) - 1, editor.state.doc.length);
			const to = Math.min(from + (mistake?.length ?? 1), editor.state.doc.length);
			marks.push({ from: Math.min(from, Math.max(to - 1, 0)), to, severity: "error", message: mistake?.detail ?? "" });
		}
		editor.dispatch(setDiagnostics(editor.state, marks));
	}, [mistake]);

	return <div ref={host} />;
}
