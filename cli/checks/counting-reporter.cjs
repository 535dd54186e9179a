const { writeFileSync } = require('node:fs');
const { reporters, Runner } = require('mocha');

/** The usual listing, and the counts in a file for whoever started the tests. Hooks that fail count as failures. */
module.exports = class CountingReporter extends reporters.Spec {
  constructor(runner, options) {
    super(runner, options);
    runner.once(Runner.constants.EVENT_RUN_END, () => {
      const { passes, failures } = this.stats;
      const path = process.env.COBWEB_COUNT_FILE;
      if (path) writeFileSync(path, JSON.stringify({ passed: passes, failed: failures }));
    });
  }
};
