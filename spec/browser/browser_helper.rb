# frozen_string_literal: true

require "spec_helper"
require "yenvo/engine"
require_relative "../support/browser"

RSpec.configure do |config|
  [Capybara::DSL, Capybara::RSpecMatchers, Database, Processes, Browser].each { |part| config.include part, :browser }
  config.after(:each, :browser) do |example|
    if example.exception
      page.driver.browser.save_screenshot(
        File.expand_path("../../tmp/failed-#{example.full_description.gsub(/\W+/, "-")[0, 80]}.png", __dir__)
      )
    end
    network
    # Or the next example would stand before a screen as narrow as this one's, without knowing.
    page.driver.browser.execute_cdp("Emulation.clearDeviceMetricsOverride")
    Capybara.reset_sessions!
    Browser.clear
  end
end
