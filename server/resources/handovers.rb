# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # What one shift tells the next.
      class Handovers < Resource
        MOST = 100
        MOST_REMARKS = 20_000
        # A shift, where nothing was handed over before; and the longest window.
        SHIFT_US = 8 * 3_600_000_000
        LONGEST_US = 31 * Store::Question::DAY_US

        # The latest first.
        get "/" do
          json("handovers" => Store::Handover.latest.limit(MOST).map { |one| in_short(one) })
        end

        # Of any window, as things are now. Where none is said, from the end of the last one.
        get "/summary" do
          from_us, to_us = window_of(time("from"), time("to"))
          json("from_us" => from_us, "to_us" => to_us, "sections" => summary(from_us, to_us))
        end

        get "/:id" do
          json(present(Store::Handover.find(params["id"])))
        end

        post "/" do
          wanted = carried
          from_us, to_us = window_of(*times(wanted))
          handover = Store::Handover.create!(
            from_us: from_us, to_us: to_us, remarks: remarks(wanted), summary: json(summary(from_us, to_us)),
            created_us: now_us, changed_us: now_us
          )
          status 201
          json(present(handover))
        end

        # Remarks may be changed until the next shift has acknowledged them.
        patch "/:id" do
          handover = Store::Handover.find(params["id"])
          problem(409, "acknowledged", "the next shift has acknowledged it by now") if handover.acknowledged?

          handover.update!(remarks: remarks(carried), changed_us: now_us)
          json(present(handover))
        end

        post "/:id/acknowledged" do
          handover = Store::Handover.find(params["id"])
          problem(409, "acknowledged", "it was acknowledged before") if handover.acknowledged?
          if who.name && who.name == handover.made_by
            problem(403, "not-allowed", "whoever takes over acknowledges it, not who handed over")
          end

          handover.update!(acknowledged_us: now_us, acknowledged_by: who.name)
          json(present(handover))
        end

        private

        def summary(from_us, to_us) = Present::ShiftSummary.sections(Store::ShiftSummary.new(from_us, to_us))

        def window_of(from_us, to_us)
          to_us ||= now_us
          from_us ||= Store::Handover.next_from(to_us, SHIFT_US)
          raise BadParameter.new("to", "the window ends before it starts") if to_us <= from_us
          raise BadParameter.new("from", "a handover is of no more than 31 days") if to_us - from_us > LONGEST_US

          [from_us, to_us]
        end

        def times(wanted)
          %w[from_us to_us].map do |name|
            us = wanted[name]
            next us if us.nil? || (us.is_a?(Integer) && us.between?(-(1 << 53), 1 << 53))

            raise BadParameter.new(name, "#{name} is a whole number of microseconds")
          end
        end

        def remarks(wanted)
          text = wanted.fetch("remarks", "")
          return text if text.is_a?(String) && text.size <= MOST_REMARKS

          raise BadParameter.new("remarks", "remarks are a text of no more than #{MOST_REMARKS} characters")
        end

        def in_short(one)
          {
            "id" => one.id, "from_us" => one.from_us, "to_us" => one.to_us, "created_us" => one.created_us,
            "acknowledged_us" => one.acknowledged_us, "acknowledged_by" => one.acknowledged_by
          }.merge(one.authors)
        end

        def present(one) = in_short(one).merge("remarks" => one.remarks, "sections" => one.sections)
      end
    end
  end
end
