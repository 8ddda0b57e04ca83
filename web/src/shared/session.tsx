import { useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useEffect } from "react";
import { answer, api, onRefusal } from "../api/client";
import type { paths } from "../api/schema";
import type { Schemas } from "../api/types";
import classes from "./session.module.css";

export type Session = Schemas["Session"];
export type Role = NonNullable<Session["role"]>;
/** As the server's table of roles has it. */
export type Route = `${"GET" | "POST" | "PUT" | "PATCH" | "DELETE"} ${keyof paths & string}`;

export const ROLES: { value: Role; says: string }[] = [
	{ value: "viewer", says: "view and search" },
	{ value: "responder", says: "also cases, alerts, boards, scopes and saved questions" },
	{ value: "operator", says: "also files, sources, rules, parsers, noise, forwarding and retention" },
	{ value: "administrator", says: "also people, limits and permanent deletion" },
];

/** Whether what they see can be limited. */
export const limitable = (role: Role) => role === "viewer" || role === "responder";

export const SESSION = ["session"];
const UNAUTHORIZED = 401;

const Current = createContext<Session | null>(null);

/** Asks who is logged in, and again when the server says that nobody is. */
export function useAsked() {
	const queries = useQueryClient();
	useEffect(
		() =>
			onRefusal((status) => {
				if (status === UNAUTHORIZED && queries.getQueryData<Session>(SESSION)?.person)
					void queries.invalidateQueries({ queryKey: SESSION });
			}),
		[queries],
	);
	return useQuery({
		queryKey: SESSION,
		queryFn: ({ signal }) => answer(api.GET("/api/session", { signal })),
		refetchInterval: ({ state }) => (state.error ? 1000 : false),
	});
}

export function SessionProvider({ session, children }: { session: Session; children: ReactNode }) {
	return <Current.Provider value={session}>{children}</Current.Provider>;
}

export function useSession(): Session {
	const session = useContext(Current);
	if (!session) throw new Error("nobody has asked yet who is logged in");
	return session;
}

/** Why the person may not use a route; null when they may. */
export function whyNot(session: Session, route: Route): string | null {
	const needed = session.may_not[route];
	if (needed === undefined) return null;
	if (needed === "whole") return `Not available here: your access is limited to ${session.sight}.`;
	return `Needs the ${needed} role; yours is ${session.role}.`;
}

export function useWhyNot(route: Route): string | null {
	return whyNot(useSession(), route);
}

/** What a menu's item has for who may not do what it does. */
export function useBarred(route: Route): { disabled: boolean; title?: string } {
	const why = useWhyNot(route);
	return why === null ? { disabled: false } : { disabled: true, title: why };
}

interface AllowedProps {
	to: Route;
	/** Whether the reason is written beside them; else it is told where the pointer rests. */
	tell?: boolean;
	children: ReactNode;
}

/** A screen that asks a route first: the reason in its place, for who may not. */
export function Screen({ to, children }: { to: Route; children: ReactNode }) {
	const why = useWhyNot(to);
	return why === null ? children : <main className={classes.screen}>{why}</main>;
}

/** Controls that use a route: greyed, with the reason, for who may not. */
export function Allowed({ to, tell = false, children }: AllowedProps) {
	const why = useWhyNot(to);
	if (why === null) return children;
	return (
		<fieldset disabled className={classes.barred} title={why}>
			{tell && <p className={classes.why}>{why}</p>}
			{children}
		</fieldset>
	);
}
