import { lazy, Suspense } from "react";
import classes from "./Markdown.module.css";

const ReactMarkdown = lazy(() => import("react-markdown"));

/** What a person wrote as Markdown. No HTML of its own, and nothing that is fetched; links open beside. */
export function Markdown({ text }: { text: string }) {
	return (
		<div className={classes.text}>
			<Suspense fallback={<p>{text}</p>}>
				<ReactMarkdown
					disallowedElements={["img"]}
					components={{
						a: ({ href, children }) => (
							<a href={href} target="_blank" rel="noreferrer">
								{children}
							</a>
						),
					}}
				>
					{text}
				</ReactMarkdown>
			</Suspense>
		</div>
	);
}
