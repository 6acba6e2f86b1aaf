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
  config.expect_with(:rspec) { |expectations| expectations.max_formatted_output_length = 600 }
  config.include Builders
  config.include Properties
  config.define_derived_metadata(file_path: %r{/spec/web/}) { |meta| meta[:web] = true }
  config.include WebClient, :web
  config.before(:each, :web) { app }
  config.define_derived_metadata(file_path: %r{/spec/browser/}) { |meta| meta.update(browser: true, db: false) }
  config.before(:each, :browser) { Capybara.app_host = Browser.house[1] }
  # What starts processes takes its time. Slow examples run behind the others, and bin/test --quick leaves them out.
  config.define_derived_metadata(processes: true) { |meta| meta[:slow] = true }
  config.define_derived_metadata(file_path: %r{/spec/(cli/|web/live_spec)}) { |meta| meta[:slow] = true }
  config.register_ordering(:global) do |items|
    RSpec::Core::Ordering::Random.new(RSpec.configuration).order(items).partition { |one| !one.metadata[:slow] }.flatten
  end
  config.include Processes, :processes
  config.after(:each, :processes) { stop_all }
  config.define_derived_metadata(file_path: %r{/spec/(store|engine|web|cli)/}) { |meta| meta[:db] = true }
  config.include Database, :db
  config.extend Database::Once, :db
  config.define_derived_metadata(file_path: %r{/spec/engine/}) { |meta| meta[:engine] = true }
  config.include RuleWords, :engine
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
