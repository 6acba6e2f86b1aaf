# frozen_string_literal: true

require "semantic_logger"
require "yenvo/store/root"

module Yenvo
  # The worker: takes what happened from the journal and does what the rules say.
  module Engine
  end
end
