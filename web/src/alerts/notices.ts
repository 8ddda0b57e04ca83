import { useCallback, useEffect, useRef, useState } from "react";
import type { Alert } from "./api";

const KEPT = "northdrift.notices";

const supported = () => "Notification" in window && window.isSecureContext;
const wanted = () => supported() && localStorage.getItem(KEPT) === "yes" && Notification.permission === "granted";

/** Whether this browser tells of new alerts by itself; why it cannot, where it cannot. */
export function useNotices() {
	const [on, setOn] = useState(wanted);
	const [refused, setRefused] = useState(false);
	const turn = useCallback(async (next: boolean) => {
		const allowed = !next || (await Notification.requestPermission()) === "granted";
		setRefused(!allowed);
		localStorage.setItem(KEPT, next && allowed ? "yes" : "no");
		setOn(next && allowed);
	}, []);
	const why = supported() ? null : "A browser tells of alerts only over HTTPS, or on this computer itself.";
	return { on, turn, why: why ?? (refused ? "This browser does not allow it; see its settings for this page." : null) };
}

/** Tells of alerts that were not there the last time, where that is wanted. */
export function useNoticesOf(alerts: Alert[] | undefined, onOpen: (id: number) => void) {
	const known = useRef<Set<number> | null>(null);
	const open = useRef(onOpen);
	open.current = onOpen;
	useEffect(() => {
		if (!alerts) return;
		const fresh = known.current ? alerts.filter(({ id }) => !known.current?.has(id)) : [];
		known.current = new Set([...(known.current ?? []), ...alerts.map(({ id }) => id)]);
		if (!wanted()) return;
		for (const alert of fresh) {
			const body = alert.key.map(({ value }) => value).join(" · ");
			const notice = new Notification(alert.name, { body, tag: `alert ${alert.id}` });
			notice.onclick = () => {
				window.focus();
				open.current(alert.id);
			};
		}
	}, [alerts]);
}
