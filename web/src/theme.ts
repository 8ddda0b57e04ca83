import {
	Checkbox,
	type CSSVariablesResolver,
	createTheme,
	Drawer,
	defaultVariantColorsResolver,
	type MantineColorsTuple,
	Menu,
	Modal,
} from "@mantine/core";

const fjord: MantineColorsTuple = [
	"#eaf5f5",
	"#d3e8e8",
	"#a6d1d3",
	"#80c2c6",
	"#5db3b8",
	"#3b939a",
	"#217780",
	"#0e5a68",
	"#0b4a56",
	"#083944",
];

/** Surfaces of the night theme, from text to the darkest ground. */
const dark: MantineColorsTuple = [
	"#e3e8e4",
	"#a3b2b8",
	"#8c9da6",
	"#4a6070",
	"#263945",
	"#22384a",
	"#1c2f3b",
	"#13212b",
	"#0f1b24",
	"#0b141b",
];

/** The cross in the corner, for those who hear the page. */
const CLOSE = { "aria-label": "close" };

export const theme = createTheme({
	primaryColor: "fjord",
	primaryShade: { light: 7, dark: 4 },
	colors: { fjord, dark },
	autoContrast: true,
	// What stands on the primary colour differs by theme, which Mantine settles once for both.
	variantColorResolver: (input) => {
		const colours = defaultVariantColorsResolver(input);
		return input.variant === "filled" && input.color === input.theme.primaryColor
			? { ...colours, color: "var(--on-primary)" }
			: colours;
	},
	components: {
		Checkbox: Checkbox.extend({ defaultProps: { iconColor: "var(--on-primary)" } }),
		Drawer: Drawer.extend({ defaultProps: { closeButtonProps: CLOSE } }),
		Menu: Menu.extend({ defaultProps: { withInitialFocusPlaceholder: false } }),
		Modal: Modal.extend({ defaultProps: { closeButtonProps: CLOSE } }),
	},
	fontFamily: "var(--font-text)",
	fontFamilyMonospace: "var(--font-lines)",
	defaultRadius: 4,
	cursorType: "pointer",
	respectReducedMotion: true,
});

/** Mantine's own surfaces take the application's colours. */
export const variables: CSSVariablesResolver = () => {
	const shared = {
		"--mantine-color-body": "var(--sheet)",
		"--mantine-color-text": "var(--ink)",
		"--mantine-color-dimmed": "var(--ink-second)",
		"--mantine-color-default-border": "var(--rule)",
		"--mantine-color-default": "var(--sheet)",
		"--mantine-color-default-hover": "var(--hover)",
		"--mantine-color-placeholder": "var(--ink-third)",
	};
	return { variables: {}, light: shared, dark: shared };
};
