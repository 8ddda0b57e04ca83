# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Sources as they came in: a place in one, and the whole of it.
      class Sources < Resource
        MOST = 500

        get "/:id" do
          source = Store::Source.find(params["id"])
          text = Store::SourceText.new(source)
          last = text.last_line
          line = integer("line", 1..(1 << 40), 1)
          if line > [last, 1].max
            raise BadParameter.new("line", "#{Text.display(source.name)} has #{last} lines; there is no line #{line}")
          end

          records = text.around(line, before: integer("before", 0..MOST, 60), after: integer("after", 0..MOST, 60))
          json(
            "id" => source.id, "name" => Text.display(source.name), "encoding" => source.encoding,
            "bytes" => text.bytes, "last_line" => last, "unusual" => source.unusual,
            "records" =>
              records.map do |event|
                {
                  "id" => event.id.to_s, "line_number" => event.line, "severity" => event.severity,
                  "raw" => Text.display(event.raw)
                }
              end
          )
        end

        # Whether it is noticed what is unusual in it.
        patch "/:id" do
          source = Store::Source.find(params["id"])
          unusual = carried["unusual"]
          raise BadParameter.new("unusual", "unusual is true or false") unless [true, false].include?(unusual)

          source.update!(unusual: unusual)
          json("id" => source.id, "unusual" => unusual)
        end

        # Its bytes, as they were read.
        get "/:id/text" do
          source = Store::Source.find(params["id"])
          content_type "text/plain", charset: "utf-8"
          attachment(File.basename(Text.display(source.name)))
          stream do |out|
            Store::SourceText.new(source).each { |bytes| out << bytes }
          ensure
            ActiveRecord::Base.connection_handler.clear_active_connections!
          end
        end
      end
    end
  end
end
