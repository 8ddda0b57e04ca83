# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Which alerts are folded under which, see {Watch::Folding}. All is called within a transaction.
    module AlertFolds
      WITHIN_US = Northdrift::Watch::Folding::WITHIN_US

      module_function

      # Puts one that was just raised under that which is behind it, or others under it.
      # @param alert [Alert]
      def fold(alert)
        return unless alert.machine

        others = Alert.where(root_id: nil, raised_us: (alert.raised_us - WITHIN_US)..(alert.raised_us + WITHIN_US))
          .where.not(id: alert.id).where.not(state: "closed").where.not(machine: nil).select { |one| one.rule.fold? }
        return if others.empty?

        folding = Northdrift::Watch::Folding.new(Fleet.current.dependencies)
        fresh, *ones = [alert, *others].map { |one| Northdrift::Watch::Folding::One.new(one.id, one.machine, one.raised_us) }
        root = folding.root(fresh, ones)
        return put([alert], Alert.find(root.id), folding) if root

        put(others.select { |one| folding.folded(fresh, ones).map(&:id).include?(one.id) }, alert, folding)
      end

      # What was folded under one that goes is so no more.
      def let_go(root) = Alert.where(root_id: root.id).update_all(root_id: nil, fold_path: nil)

      # Alerts of a rule stand by themselves from now on, those that are open too.
      # @param rule_id [Integer]
      def unfold(rule_id)
        of_rule = Alert.where(rule_id: rule_id).where.not(state: "closed")
        of_rule.find_each { |root| let_go(root) }
        of_rule.update_all(root_id: nil, fold_path: nil)
      end

      def put(alerts, root, folding)
        alerts.each do |one|
          [one, *one.folded].each do |each|
            path = folding.path(each.machine, root.machine)
            each.update!(root_id: root.id, fold_path: Oj.dump(path, mode: :strict))
          end
        end
      end
      private_class_method :put
    end
  end
end
