/** The least number of students for counts without names. With fewer, one of them could be recognised. */
export const fewestStudents = 5;
