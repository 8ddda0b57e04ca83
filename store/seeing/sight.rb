# frozen_string_literal: true

module Northdrift
  module Store
    # What somebody may see of all that there is: a find text on where lines come from. Whatever is asked within it is
    # answered as if nothing else had ever come in.
    #
    # It is a matter of the connection to the database: there, all tables that tell of lines are hidden behind views of
    # the same names ({SightViews}), so that no question can see past it. What a thread is within holds for every
    # connection that it takes.
    class Sight
      # What a sight may be a condition on: all lines of a kind, or of a source, have the same.
      FIELDS = ["host.name", "service.name", Fleet::SITE, Fleet::ROLE, Fleet::TAGS, "source"].freeze
      # Who may do so much sees everything.
      LEAST_WHOLE = "operator"
      HELD = :northdrift_sight
      # Sights whose reach is kept.
      KEPT = 16

      # A find text that no sight can be.
      Unfit = Class.new(Error)

      class << self
        # @param find [String]
        # @return [String, nil] nil when it leaves nothing out
        # @raise [Unfit]
        def check(find)
          find = find.strip
          return if find.empty?

          stray = Find::Tree.nodes(Find::Parser.parse(find)).find { |node| !known?(node) }
          return find unless stray

          raise Unfit, "what one may see is told by #{FIELDS.join(', ')} alone, joined by and, or and not"
        rescue Find::Mistake => error
          raise Unfit, error.message
        end

        # @param find [String]
        # @param role [String] see {People::Role}
        # @return [String, nil]
        # @raise [Unfit] what others set holds for all that comes in
        def of_role(find, role)
          check(find).tap do |sight|
            if sight && People::Role.enough?(role, LEAST_WHOLE)
              raise Unfit, "who may do as much as an #{role} sees everything; a limit is for viewers and responders"
            end
          end
        end

        # @param finds [Array<String>]
        # @return [String, nil] what any of them sees; nil where there are none
        def any(finds) = join(finds, "or")

        # @param finds [Array<String>]
        # @return [String, nil] what all of them see; nil where there are none
        def all(finds) = join(finds, "and")

        # @return [SightReach, nil] what this thread is within; nil: everything
        def current = Thread.current.thread_variable_get(HELD)

        # @return [String, nil] its find text
        def find = current&.find

        # Does something within a sight.
        # @param find [String, nil] nil: everything
        def within(find)
          before = current
          hold(find && reach(find))
          yield
        ensure
          hold(before)
        end

        # What is kept for a sight, as for everything.
        # @param everything [Object, nil] what is kept where there is no sight
        # @yieldreturn [Object] what to keep
        def kept(name, everything, &)
          current ? current.kept.compute_if_absent(name, &) : everything
        end

        # @return [Condition] what a question is narrowed by, so that the counts and the index help
        def condition = current&.condition || Condition::EVERYTHING

        # To be said when another database is opened.
        def forget = @reaches = nil

        private

        def join(finds, word)
          finds = finds.uniq
          finds.size < 2 ? finds.first : finds.map { |find| "(#{find})" }.join(" #{word} ")
        end

        def known?(node)
          case node
          when Find::Tree::All, Find::Tree::Any, Find::Tree::Not, Find::Tree::Everything then true
          when Find::Tree::Compare, Find::Tree::Has, Find::Tree::Matches then FIELDS.include?(node.field)
          else false
          end
        end

        def hold(reach)
          return if current.equal?(reach)

          Thread.current.thread_variable_set(HELD, reach)
          pool = ActiveRecord::Base.connection_pool
          SightViews.match(pool.lease_connection.raw_connection) if pool.active_connection?
        end

        # @return [SightReach] as it is now
        def reach(find)
          reaches = @reaches ||= Concurrent::Map.new
          state = SightReach.state
          known = reaches[find]
          return known if known&.holds?(state)

          reaches.clear if reaches.size >= KEPT
          reaches[find] = within(nil) { SightReach.new(find, state) }
        end
      end
    end
  end
end
