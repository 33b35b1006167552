/** The scale of how the student feels, by its ends. */
export const FEEL_ENDS = "0 very ill, 10 fine";
