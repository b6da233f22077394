/** A hymn in four voices without names of chords, made up for the tests: another chord on nearly every beat. */
export const PSALM = `X:1
T:Psalm
M:4/4
L:1/4
Q:1/4=90
K:G
V:1
G|GFED|GABB|BBAG|cBAG|]
V:2
D|DDB,B,|DFGG|GGFE|EDFD|]
V:3 clef=bass
B,|B,A,G,F,|G,DDD|DDDB,|G,G,DB,|]
V:4 clef=bass
G,|G,D,E,B,,|B,,D,G,G,|G,G,D,E,|C,G,,D,G,|]
`;
