/** About how wide a finger is, in millimetres: how cutters tell a thickness. */
export const finger = 15
