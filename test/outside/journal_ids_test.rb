# frozen_string_literal: true

require_relative "../test_helper"

# Message ids that the logbook goes by, against systemd's own catalogue: id and subject as catalog/systemd.catalog.in of
# systemd 252 (Debian 12, package systemd, /usr/lib/systemd/catalog/systemd.catalog) has them.
class JournalIdsTest < Minitest::Test
  include Northdrift

  CATALOGUE =
    File.readlines(File.join(__dir__, "systemd-catalogue.tsv"), chomp: true).to_h { |line| line.split("\t", 2) }
  RULES = Logbook::Catalogue.shipped.families.find { |family| family.name == "journal" }.rules
  VARIABLE = /@\w+@/

  def test_every_id_is_in_the_catalogue_and_means_what_the_rule_says_it_does
    RULES.each do |rule|
      subject = CATALOGUE.fetch(rule.mark)
      next assert_match(/OUT_OF_MEMORY/, rule.source) unless rule.source.include?("catalogue")

      words = subject.gsub(VARIABLE, " ").scan(/[\w-]{3,}/)
      assert_empty words - rule.source.scan(/[\w-]+/), rule.id
    end
  end
end
