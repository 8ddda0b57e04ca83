# frozen_string_literal: true

module Northdrift
  module Server
    module Present
      # Investigations and what is pinned to them.
      module Cases
        SAID = %w[id title status onset_us cause remedy effect note created_us changed_us closed_us made_by
                  changed_by].freeze
        # Of what is pinned, as it was kept.
        TOLD = %w[machine service severity text query chart source].freeze

        module_function

        # @param one [Store::Case]
        def a_case(one) = one.attributes.slice(*SAID).merge("pins" => Store::Pin.present.where(case_id: one.id).count)

        # @param one [Store::Pin]
        def pin(one)
          told = one.told
          {
            "id" => one.id, "kind" => one.kind, "at_us" => one.at_us, "told_us" => told["told_us"] || one.at_us,
            "event_id" => one.event_id&.to_s, "pattern" => one.pattern, **TOLD.to_h { |name| [name, told[name]] },
            "sha256" => one.sha256, "raw" => one.raw && Text.display(one.raw), "note" => one.note
          }
        end

        # What helped when a pattern was there before.
        # @param pattern [Integer] id
        # @param remedies [Hash{Integer=>Array<Store::Case>}] by pattern
        def remedies(pattern, remedies)
          remedies.fetch(pattern, []).map { |one| one.attributes.slice("id", "title", "cause", "remedy", "closed_us") }
        end
      end
    end
  end
end
