# frozen_string_literal: true

require "json"
require "open3"

module Northdrift
  # Functions of the pages that need no page: they are bundled as the pages are, and called in Node.
  module FrontEnd
    WEB = File.join(ROOT, "web")
    # By name: the file, and which of its functions.
    MODULES = {
      "time" => "shared/time", "quantity" => "shared/quantity", "question" => "shared/question",
      "clause" => "measure/clause", "compared" => "shared/compared", "fold" => "logbook/fold",
      "layout" => "fleet/layout", "highlight" => "investigate/highlight"
    }.freeze
    CALLER = <<~JS
      const text = await new Promise((done) => { let all = ""; process.stdin.on("data", (part) => (all += part)).on("end", () => done(all)); });
      const calls = JSON.parse(text);
      Date.now = () => NOW;
      const answer = ([module, name, ...args]) => {
        try { const found = modules[module][name](...args); return found instanceof URLSearchParams ? found.toString() : found === undefined ? null : found; } catch (error) { return { error: String(error) }; }
      };
      process.stdout.write(JSON.stringify(calls.map(answer)));
    JS

    module_function

    # @param calls [Array<Array>] module, function and its arguments
    # @return [Array] what each returns
    def call(calls)
      output, errors, status = Open3.capture3("node", bundle, stdin_data: JSON.generate(calls))
      raise errors unless status.success?

      JSON.parse(output)
    end

    # @return [String] path of all modules in one file, made once
    def bundle
      @bundle ||= Dir.mktmpdir("northdrift-pages").then do |dir|
        owner = Process.pid # children of tests end, too
        at_exit { FileUtils.rm_rf(dir) if Process.pid == owner }
        entry = File.join(dir, "called.ts")
        imports = MODULES.map { |name, path| "import * as #{name} from \"#{WEB}/src/#{path}\";\n" }
        File.write(
          entry,
          "#{imports.join}const modules: any = { #{MODULES.keys.join(', ')} };\n" \
          "#{CALLER.sub('NOW', (Store::Clock.now_us / 1000).to_s)}"
        )
        output, status =
          Open3.capture2e(
            File.join(WEB, "node_modules/.bin/rolldown"), entry, "--platform", "node", "--format", "esm", "--file",
            File.join(dir, "called.mjs"), "--module-types", ".css:empty", chdir: WEB
          )
        raise output unless status.success?

        File.join(dir, "called.mjs")
      end
    end
  end
end
