# frozen_string_literal: true

$LOAD_PATH.unshift File.expand_path("../lib", __dir__)
if ENV["COVERAGE"]
  require "simplecov"
  SimpleCov.start { add_filter "/spec/" }
end
require "yenvo/loader"
require "prop_check"
Dir[File.join(__dir__, "support", "*.rb")].sort.each { |file| require file }

RSpec.configure do |config|
  config.disable_monkey_patching!
  config.order = :random
  config.expect_with(:rspec) { |expectations| expectations.max_formatted_output_length = 600 }
  config.include Builders
  config.define_derived_metadata(file_path: %r{/spec/(store|engine|web|browser|standins)/}) { |meta| meta[:db] = true }
end
