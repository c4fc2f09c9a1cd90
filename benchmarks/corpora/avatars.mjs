// Draws avatars of the DiceBear style packages: node avatars.mjs FOLDER COUNT writes SVG files.
// Hair and skin are light, so that no fill passes for ink.
import { mkdirSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join, resolve } from 'node:path';
import { pathToFileURL } from 'node:url';

const LIGHT_HAIR = ['e8c98a', 'd9a066', 'f0dfae', 'c9b8d8', 'a8d0c0'];
const LIGHT_SKIN = ['f2d3b1', 'ecad80', 'f8dcc4'];
const STYLES = {
    adventurer: { hairColor: LIGHT_HAIR, skinColor: LIGHT_SKIN },
    croodles: { topColor: ['000000'] },
    'open-peeps': { headContrastColor: LIGHT_HAIR, skinColor: LIGHT_SKIN },
};

const [folder, count] = process.argv.slice(2);
const find = createRequire(resolve('.corpus/package.json')).resolve;
const load = (name) => import(pathToFileURL(find(`@dicebear/${name}`)));
const { createAvatar } = await load('core');
for (const [name, options] of Object.entries(STYLES)) {
    const style = await load(name);
    mkdirSync(join(folder, name), { recursive: true });
    for (let seed = 0; seed < Number(count); seed += 1) {
        const avatar = createAvatar(style, { ...options, seed: `${name} ${seed}` });
        writeFileSync(join(folder, name, `${seed}.svg`), avatar.toString());
    }
}
