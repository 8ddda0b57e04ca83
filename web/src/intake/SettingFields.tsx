import { Textarea, TextInput } from "@mantine/core";
import classes from "./Intake.module.css";

export interface Setting {
	name: string;
	label: string;
	description?: string;
	placeholder?: string;
	/** Whether it has several lines. */
	long?: boolean;
}

export type Given = Record<string, string>;

/** Settings as they are typed; what is not set is empty. */
export function typed(settings: Record<string, string | number | null | undefined> | undefined): Given {
	return Object.fromEntries(Object.entries(settings ?? {}).map(([key, value]) => [key, String(value ?? "")]));
}

/** What is sent of them: all that this kind has, and nothing that was typed for another. */
export function filled(fields: Setting[], given: Given): Given {
	return Object.fromEntries(fields.map((field) => [field.name, given[field.name] ?? ""]));
}

/** A field for each setting; the problem stands at the one that it is about. */
export function SettingFields({
	fields,
	given,
	onChange,
	unfit,
	problem,
}: {
	fields: Setting[];
	given: Given;
	onChange: (given: Given) => void;
	unfit?: string;
	problem?: string;
}) {
	const inputs = fields.map((field) => {
		const Input = field.long ? Textarea : TextInput;
		return (
			<Input
				key={field.name}
				className={field.long ? classes.long : undefined}
				label={field.label}
				description={field.description}
				placeholder={field.placeholder}
				value={given[field.name] ?? ""}
				onChange={(event) => onChange({ ...given, [field.name]: event.currentTarget.value })}
				error={unfit === field.name ? problem : undefined}
			/>
		);
	});
	return <div className={classes.settings}>{inputs}</div>;
}
