# frozen_string_literal: true

require "yenvo/loader"

module Yenvo
  # The rules of the job: a rule is a pure function from what happened to a plan. Nothing in here knows a database,
  # the web, the clock, chance or the environment.
  module Core
  end
end
