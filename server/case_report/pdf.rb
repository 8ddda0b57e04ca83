# frozen_string_literal: true

require "prawn"
require "tempfile"
require "zlib"

module Northdrift
  module Server
    module CaseReport
      # A report as PDF, to be printed.
      class Pdf
        FONTS = File.join(__dir__, "fonts")
        TEXT = { normal: "AtkinsonHyperlegibleNext_400Regular", bold: "AtkinsonHyperlegibleNext_700Bold" }.freeze
        LINES = { normal: "AtkinsonHyperlegibleMono_400Regular" }.freeze
        SECOND = "4B5B66"
        INK = "152530"
        CHART_HEIGHT = 80
        # Of what a font has no sign for.
        MISSING = "\u{FFFD}"

        # @param report [Cases::Report]
        # @return [String] bytes
        def self.write(report) = new(report).write

        # Fonts are kept packed, and unpacked once for each process.
        # @return [Hash{Symbol=>String}] paths by style
        def self.unpacked(fonts)
          @unpacked ||= {}
          fonts.transform_values do |name|
            @unpacked[name] ||= Tempfile.new([name, ".ttf"], binmode: true).tap do |file|
              file.write(Zlib::GzipReader.open(File.join(FONTS, "#{name}.ttf.gz"), &:read))
              file.close
            end
            @unpacked[name].path
          end
        end

        def initialize(report)
          @report = report
          @pdf =
            Prawn::Document.new(
              page_size: "A4", margin: 50, info: { Title: "#{report.number}: #{report.title}", Creator: "Northdrift" }
            )
          @pdf.font_families.update("text" => Pdf.unpacked(TEXT), "lines" => Pdf.unpacked(LINES))
          @pdf.font("text", size: 10)
          @pdf.fill_color(INK)
        end

        # @return [String]
        def write
          @pdf.text(shown("#{@report.number}: #{@report.title}"), size: 17, style: :bold)
          second("Written #{Cases::Report.time(@report.written_us)}")
          @report.facts.each { |fact| heading(fact.title) && @pdf.text(shown(fact.text)) }
          timeline
          charts
          evidence
          @pdf.number_pages("<page> / <total>", at: [@pdf.bounds.right - 60, -15], align: :right, width: 60, size: 8)
          @pdf.render
        end

        private

        def heading(title)
          @pdf.start_new_page if @pdf.cursor < 70
          @pdf.move_down(12)
          @pdf.text(title, size: 12, style: :bold)
          @pdf.move_down(3)
          true
        end

        def second(text)
          @pdf.fill_color(SECOND)
          @pdf.text(shown(text), size: 9)
          @pdf.fill_color(INK)
        end

        def timeline
          return if @report.timeline.empty?

          heading("Timeline")
          @report.timeline.each do |pin|
            second(
              [
                Cases::Report.time(pin.at_us), pin.machine, pin.severity && Severity.name(pin.severity),
                (pin.at_us == pin.told_us ? nil : "its own clock: #{Cases::Report.time(pin.told_us)}")
              ].compact.join("   ")
            )
            @pdf.text(shown(pin.text))
            @pdf.text(shown(pin.note), size: 9, style: :bold) unless pin.note.strip.empty?
            @pdf.move_down(4)
          end
        end

        def charts
          return if @report.charts.empty?

          heading("Lines over time")
          @report.charts.each { |pin| chart(pin) }
        end

        def chart(pin)
          @pdf.start_new_page if @pdf.cursor < CHART_HEIGHT + 50
          @pdf.text(shown(pin.text))
          draw(pin.chart)
          second("From #{Cases::Report.time(pin.chart.start_us)}, #{pin.chart.step_us / 1_000_000.0} s a step")
          @pdf.move_down(6)
        end

        def draw(chart)
          most = [chart.counts.map(&:sum).max || 0, 1].max
          wide = @pdf.bounds.width / [chart.counts.size, 1].max
          base = @pdf.cursor - CHART_HEIGHT
          chart.counts.each_with_index do |counts, step|
            y = base
            counts.each_with_index do |n, severity|
              next unless n.positive?

              tall = n * CHART_HEIGHT / most.to_f
              y += tall
              @pdf.fill_color(Html::COLOURS[severity].delete("#"))
              @pdf.fill_rectangle([step * wide, y], [wide - 0.5, 0.3].max, tall)
            end
          end
          @pdf.fill_color(INK)
          @pdf.move_down(CHART_HEIGHT + 4)
        end

        def evidence
          return if @report.evidence.empty?

          heading("Evidence")
          @report.evidence.each do |pin|
            second("#{[Cases::Report.time(pin.told_us), pin.source].compact.join(', ')}, SHA-256 #{pin.sha256}")
            @pdf.font("lines", size: 8) { @pdf.text(shown(Text.display(pin.raw), LINES)) }
            @pdf.move_down(6)
          end
        end

        # The signs that the fonts have; others are shown as missing.
        def shown(text, fonts = TEXT)
          known =
            (@known ||= {})[fonts] ||= TTFunk::File.open(Pdf.unpacked(fonts).fetch(:normal)).cmap.unicode.first.code_map
          Text
            .display(text)
            .gsub("\t", "    ")
            .each_char
            .map { |char| char == "\n" || known.fetch(char.ord, 0).positive? ? char : MISSING }
            .join
        end
      end
    end
  end
end
