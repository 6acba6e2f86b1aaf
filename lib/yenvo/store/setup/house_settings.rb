# frozen_string_literal: true

module Yenvo
  module Store
    # What the settings of a house are until somebody says otherwise.
    module HouseSettings
      # By which dates and numbers are read, kept with each epoch.
      CALENDAR = {"zone" => "UTC", "hours" => {}, "holidays" => nil, "days_off" => [], "number_form" => "point"}.freeze
      # All that the page of the house shows.
      SHOWN = {"name" => "Yenvo", "currency" => "EUR", **CALENDAR}.freeze
      # All of them, for the audit; mail_from: the address under which the house sends mail; mail_per_minute: how
      # many mails it sends within a minute at most; mail_answers: whether its mails are answered to Yenvo.
      ALL = {
        "second_step" => [], "mail_from" => nil, "mail_per_minute" => nil, "mail_answers" => false, **SHOWN
      }.freeze
    end
  end
end
