# frozen_string_literal: true

require "json"
require "semantic_logger"
require "sequel"
require "yenvo/core"

Sequel.default_timezone = :utc
Sequel.extension :migration

module Yenvo
  # All that is kept: one class per thing, in MariaDB through Sequel.
  module Store
    MIGRATIONS = File.expand_path("../../db/migrations", __dir__)
  end
end
