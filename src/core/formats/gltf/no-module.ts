/** Stands for modules of Node where there is none. */
export default {};
