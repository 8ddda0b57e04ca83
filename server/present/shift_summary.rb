# frozen_string_literal: true

module Northdrift
  module Server
    module Present
      # What the next shift must know.
      module ShiftSummary
        module_function

        # @param summary [Store::ShiftSummary]
        # @return [Array<Hash>] sections in order
        def sections(summary)
          titles = Store::ShiftSummary::TITLES
          summary.sections.map do |key, section|
            { "key" => key.to_s, "title" => titles.fetch(key), "total" => section.total,
              "items" => section.items.map { |one| item(one) } }
          end
        end

        # @param one [Store::ShiftSummary::Item]
        def item(one)
          {
            "at_us" => one.at_us, "severity" => one.severity, "machine" => one.machine && Text.display(one.machine),
            "says" => Text.display(one.says), "more" => one.more && Text.display(one.more), "to" => address(one.look)
          }
        end

        # @return [String] path of the page that an item leads to
        def address(look)
          return look[:path] if look[:path]
          return "/alerts?show=all&alert=#{look[:alert]}" if look[:alert]

          params = { "from" => Time.at(0, look[:from_us], :microsecond, in: "UTC").iso8601(6),
                     "to" => Time.at(0, look[:to_us], :microsecond, in: "UTC").iso8601(6) }
          params["chip"] = look[:find] unless look[:find].empty?
          params["line"] = look[:line].to_s if look[:line]
          "/?#{URI.encode_www_form(params)}"
        end
      end
    end
  end
end
