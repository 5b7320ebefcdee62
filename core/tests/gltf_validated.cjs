// Prints what the official validator says of every .glb file in a folder: {name: {errors, warnings, first}}.
// The validator is a package of the page's: node gltf_validated.cjs WEB_FOLDER FOLDER
const fs = require('node:fs');
const path = require('node:path');
const { createRequire } = require('node:module');

const [web, folder] = process.argv.slice(2);
const { validateBytes } = createRequire(path.join(path.resolve(web), 'package.json'))('gltf-validator');

(async () => {
  const told = {};
  for (const name of fs.readdirSync(folder).filter((one) => one.endsWith('.glb'))) {
    const { issues } = await validateBytes(new Uint8Array(fs.readFileSync(path.join(folder, name))));
    const { numErrors: errors, numWarnings: warnings, messages } = issues;
    told[name] = { errors, warnings, first: messages[0]?.message ?? null };
  }
  console.log(JSON.stringify(told));
})();
