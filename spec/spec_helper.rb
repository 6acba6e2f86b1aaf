# frozen_string_literal: true

$LOAD_PATH.unshift File.expand_path("../lib", __dir__)
if ENV["COVERAGE"]
  require "simplecov"
  SimpleCov.start { add_filter "/spec/" }
end
require "yenvo/loader"
require "prop_check"
Dir[File.join(__dir__, "support", "*.rb")].sort.each { |file| require file unless file.end_with?("/browser.rb") }

RSpec.configure do |config|
  config.disable_monkey_patching!
  config.order = :random
  config.expect_with(:rspec) { |expectations| expectations.max_formatted_output_length = 600 }
  config.include Builders
  config.include Properties
  config.define_derived_metadata(file_path: %r{/spec/web/}) { |meta| meta[:web] = true }
  config.include WebClient, :web
  config.before(:each, :web) { app }
  config.define_derived_metadata(file_path: %r{/spec/browser/}) { |meta| meta.update(browser: true, db: false) }
  config.before(:each, :browser) { Capybara.app_host = Browser.house[1] }
  config.include Processes, :processes
  config.after(:each, :processes) { stop_all }
  config.define_derived_metadata(file_path: %r{/spec/(store|engine|web|cli)/}) { |meta| meta[:db] = true }
  config.include Database, :db
  # SQL is rolled back after each example, but where several connections matter: those clear up behind themselves.
  config.around(:each, :db) do |example|
    # Examples that ask another process need the database too, whichever of all comes first.
    Database.root
    if example.metadata[:committed]
      begin
        example.run
      ensure
        Database.clear
      end
    else
      Database.root.forget
      Database.root.db.transaction(rollback: :always, auto_savepoint: true) { example.run }
    end
  end
end
