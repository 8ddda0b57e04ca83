# frozen_string_literal: true

module Northdrift
  module Cases
    # A report as Markdown (CommonMark 0.30). Text of logs never becomes markup: signs that mean something stand behind
    # a backslash (section 2.4), exact lines in fenced blocks whose fence is longer than any run of backquotes in them
    # (section 4.5).
    module Markdown
      SPECIAL = /[\\`*_\[\]<>|~#]/
      # What begins a list where it begins a line (section 5.2).
      LIST = /^(\s*)([-+=]|\d+(?=[.)]))/
      BARS = " ▁▂▃▄▅▆▇█"

      module_function

      # @param report [Report]
      # @return [String]
      def write(report)
        parts = ["# #{escape(report.number)}: #{escape(report.title)}", "Written #{Report.time(report.written_us)}."]
        report.facts.each { |fact| parts << "## #{escape(fact.title)}" << escape(fact.text) }
        unless report.timeline.empty?
          parts << "## Timeline" <<
            (report.timeline.empty? ? "Nothing is pinned." : report.timeline.map { |pin| entry(pin) }.join("\n"))
        end
        parts << "## Lines over time" << report.charts.map { |pin| chart(pin) }.join("\n\n") if report.charts.any?
        parts << "## Evidence" << report.evidence.map { |pin| evidence(pin) }.join("\n\n") if report.evidence.any?
        parts.join("\n\n") << "\n"
      end

      # @param text [String]
      # @return [String] that stands for itself
      def escape(text)
        special = Text.display(text).gsub(SPECIAL) { |sign| "\\#{sign}" }.gsub("&", "&amp;")
        special
          .gsub(LIST) { "#{Regexp.last_match(1)}#{Regexp.last_match(2).sub(/\A\D/) { |sign| "\\#{sign}" }}" }
          .gsub(/\s*\n\s*/, "  \n")
      end

      def entry(pin)
        told = pin.told_us == pin.at_us ? "" : " (its own clock: #{Report.time(pin.told_us)})"
        note = pin.note.strip.empty? ? "" : " — *#{escape(pin.note.strip.tr("\n", ' '))}*"
        about = [pin.machine, pin.severity && Severity.name(pin.severity)].compact.map { |word| escape(word) }
        "- **#{escape(Report.time(pin.at_us))}**#{escape(told)} #{about.join(', ')}: " \
          "#{escape(pin.text.lines.first.to_s.strip)}#{note}"
      end
      private_class_method :entry

      def chart(pin)
        totals = pin.chart.counts.map(&:sum)
        most = [totals.max || 0, 1].max
        bars = totals.map { |n| BARS[(n * (BARS.size - 1) / most.to_f).ceil] }.join
        "#{escape(pin.text)}\n\n#{fence(bars)}\n\nFrom #{Report.time(pin.chart.start_us)}, " \
          "#{pin.chart.step_us / 1_000_000.0} s a step, at most #{most} lines."
      end
      private_class_method :chart

      def evidence(pin)
        "#{escape(Report.time(pin.told_us))}#{", #{escape(pin.source)}" if pin.source}, SHA-256 `#{pin.sha256}`\n\n" \
          "#{fence(Text.display(pin.raw))}"
      end
      private_class_method :evidence

      def fence(text)
        marks = "`" * [3, (text.scan(/`+/).map(&:size).max || 0) + 1].max
        "#{marks}text\n#{text}\n#{marks}"
      end
      private_class_method :fence
    end
  end
end
