# frozen_string_literal: true

require "base64"
require "nokogiri"

module Northdrift
  module Server
    module CaseReport
      # A report as one HTML file that needs nothing else. It is built as a tree, so that no text of a log can become
      # markup.
      module Html
        STYLE = <<~CSS
          body { color: #152530; font: 15px/1.5 "Atkinson Hyperlegible Next", sans-serif; margin: 2rem auto; max-width: 60rem; padding: 0 1rem; }
          h1 { font-size: 1.6rem; margin: 0; } h2 { border-bottom: 1px solid #ddd7c9; font-size: 1.1rem; margin: 2rem 0 .5rem; }
          .second { color: #4b5b66; } table { border-collapse: collapse; width: 100%; } td { border-bottom: 1px solid #ddd7c9; padding: .3rem .6rem .3rem 0; vertical-align: top; }
          td:first-child { font-variant-numeric: tabular-nums; white-space: nowrap; } p { white-space: pre-wrap; }
          pre { background: #f6f4ee; border: 1px solid #ddd7c9; overflow-wrap: anywhere; padding: .6rem; white-space: pre-wrap; } code { overflow-wrap: anywhere; }
        CSS
        POLICY = "default-src 'none'; style-src 'unsafe-inline'"
        WIDTH = 720
        HEIGHT = 120
        # Severity colours by day, worst first.
        COLOURS = %w[#6E1644 #6E1644 #6E1644 #C4412B #C98A1B #5E8C61 #7FA0B4 #B9BFC0 #B9BFC0].freeze

        module_function

        # @param report [Cases::Report]
        # @return [String]
        def write(report)
          builder = Nokogiri::HTML4::Builder.new(encoding: "UTF-8") do |html|
            html.html(lang: "en") do
              head(html, report)
              html.body do
                html.h1("#{report.number}: #{report.title}")
                html.p("Written #{Cases::Report.time(report.written_us)}", class: "second")
                body(html, report)
              end
            end
          end
          builder.to_html
        end

        def head(html, report)
          html.head do
            html.meta(charset: "utf-8")
            html.meta("http-equiv" => "Content-Security-Policy", "content" => POLICY)
            html.title("#{report.number}: #{report.title}")
            html.style(STYLE)
          end
        end
        private_class_method :head

        def body(html, report)
          report.facts.each do |fact|
            html.h2(fact.title)
            html.p(Text.display(fact.text))
          end
          timeline(html, report.timeline)
          charts(html, report.charts)
          evidence(html, report.evidence)
        end
        private_class_method :body

        def timeline(html, pins)
          return if pins.empty?

          html.h2("Timeline")
          html.table do
            pins.each do |pin|
              html.tr do
                html.td do
                  html.text(Cases::Report.time(pin.at_us)) &&
                    (
                      unless pin.at_us == pin.told_us
                        html.br && html.span("its own clock: #{Cases::Report.time(pin.told_us)}", class: "second")
                      end
                    )
                end
                html.td([pin.machine, pin.severity && Severity.name(pin.severity)].compact.join(", "))
                html.td do
                  html.text(Text.display(pin.text)) &&
                    (html.br && html.em(Text.display(pin.note)) unless pin.note.strip.empty?)
                end
              end
            end
          end
        end
        private_class_method :timeline

        def charts(html, pins)
          return if pins.empty?

          html.h2("Lines over time")
          pins.each do |pin|
            html.p(Text.display(pin.text))
            drawing(html, pin.chart)
            html.p(
              "From #{Cases::Report.time(pin.chart.start_us)}, #{pin.chart.step_us / 1_000_000.0} s a step.",
              class: "second"
            )
          end
        end
        private_class_method :charts

        def drawing(html, chart)
          most = [chart.counts.map(&:sum).max || 0, 1].max
          wide = WIDTH / [chart.counts.size, 1].max.to_f
          html.svg(
            :viewBox => "0 0 #{WIDTH} #{HEIGHT}", :width => WIDTH, :height => HEIGHT, :role => "img",
            "aria-label" => "lines over time, at most #{most} a step"
          ) do
            chart.counts.each_with_index do |counts, step|
              y = HEIGHT.to_f
              counts.each_with_index do |n, severity|
                tall = n * HEIGHT / most.to_f
                y -= tall
                next unless n.positive?

                html.rect(
                  x: (step * wide).round(2), y: y.round(2), width: [wide - 1, 0.5].max.round(2),
                  height: tall.round(2), fill: COLOURS[severity]
                )
              end
            end
          end
        end
        private_class_method :drawing

        def evidence(html, pins)
          return if pins.empty?

          html.h2("Evidence")
          pins.each do |pin|
            html.p do
              html.text("#{[Cases::Report.time(pin.told_us), pin.source].compact.join(', ')}, SHA-256 ") &&
                html.code(pin.sha256)
            end
            html.pre(Text.display(pin.raw))
          end
        end
        private_class_method :evidence
      end
    end
  end
end
