// Exit 0 when the official glTF validator finds no error and no warning in the file.
const fs = require('fs');
const validator = require('gltf-validator');

validator.validateBytes(new Uint8Array(fs.readFileSync(process.argv[2])), {maxIssues: 200}).then((report) => {
  const bad = report.issues.messages.filter((m) => m.severity <= 1);
  for (const m of bad) console.log(m.code, m.pointer || '', m.message);
  process.exit(bad.length === 0 ? 0 : 1);
}, (error) => {
  console.log(error);
  process.exit(1);
});
