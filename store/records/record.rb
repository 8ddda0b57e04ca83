# frozen_string_literal: true

require "active_record"

module Northdrift
  module Store
    # Ancestor of the models.
    class Record < ActiveRecord::Base
      self.abstract_class = true
    end
  end
end
